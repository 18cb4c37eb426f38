<script lang="ts">
  import { Kbd } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { Line, LineRead, StripBack, StripView } from '../api/types.gen';
  import { when } from '../shared/format';
  import { Entry } from '../shared/entry';
  import { Fresh } from '../shared/fresh';
  import JobFrame from '../shared/JobFrame.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Pictures from '../shared/Pictures.svelte';

  let { params }: { params: { number: string } } = $props();

  const number = $derived(Number(params.number));
  let view = $state.raw<StripView | null>(null);
  const fresh = new Fresh();
  let missing = $state('');
  let trouble = $state('');
  let kind = $state<Line['kind']>('screws');
  let text = $state('');
  let read = $state.raw<LineRead | null>(null);
  let field: HTMLInputElement | undefined = $state();
  let at = $state(0); // the step under the cursor on the way back
  let together = $state(false); // a narrow screen shows one of the two at a time
  const entry = new Entry(); // the step being typed
  let reading: AbortController | null = null;
  let pictures: Record<string, { choose: () => void }> = $state({});

  const closed = $derived(view?.finished !== null);
  const sort = $derived(view?.sorts.find((s) => s.kind === kind));
  const steps = $derived((view?.steps ?? []).toReversed());
  const back = $derived(view?.assembly.steps ?? []);

  async function keep(act: () => Promise<StripView>): Promise<boolean> {
    try {
      view = await fresh.change(act);
      trouble = '';
      return true;
    } catch (error) {
      trouble = told(error);
      return false;
    }
  }
  async function load() {
    try {
      view = (await fresh.ask(() => api.strip(number))) ?? view;
    } catch (error) {
      if (view === null) missing = told(error);
      else trouble = told(error);
    }
  }
  $effect(() => {
    void load();
  });

  function type(next: string) {
    text = next;
    reading?.abort();
    if (text.trim() === '') {
      read = null;
      return;
    }
    const asking = (reading = new AbortController());
    api.readLine({ id: '', kind, text }, asking.signal).then(
      (line) => {
        if (!asking.signal.aborted) read = line;
      },
      () => undefined, // said when it is sent
    );
  }
  async function log() {
    const typed = text;
    type('');
    const step = { id: entry.idOf([kind, typed]), kind, text: typed };
    if (await keep(() => api.takeApart(number, step))) {
      entry.done();
      // So that the next key is a sort of step again; a phone keeps its keyboard open.
      if (text === '' && !matchMedia('(pointer: coarse)').matches) field?.blur();
    } else {
      const why = trouble;
      type(typed);
      trouble = why;
    }
  }
  function choose(next: Line['kind'], focus = true) {
    kind = next;
    if (focus) field?.focus();
    type(text);
  }
  async function putBack(b: StripBack | undefined, count: number) {
    if (!b) return; // a finished set is put together too
    const i = at;
    if (await keep(() => api.putBack(number, b.step.id, { count }))) {
      if (count === b.step.count) at = Math.min(i + 1, back.length - 1); // on to the next
    }
  }

  function onkey(event: KeyboardEvent): boolean {
    const chosen = view?.sorts.find((s) => s.key === event.key);
    const here = back[at];
    if (chosen && !closed) {
      choose(chosen.kind);
    } else if (event.key === 'ArrowDown') at = Math.min(at + 1, back.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if (event.key === ' ' || event.key === 'Enter') {
      if (document.activeElement instanceof HTMLButtonElement) return false;
      void putBack(here, here?.done ? 0 : (here?.step.count ?? 0));
    } else if (event.key === '-' && here)
      void putBack(here, Math.max((here.touched ? here.in : here.step.count) - 1, 0));
    else if (event.key === 'm') together = !together;
    else if (event.key === 'f' && steps[0]) pictures[steps[0].id]?.choose();
    else return false;
    return true;
  }
  // The step under the cursor stays in sight.
  $effect(() => document.querySelector(`[data-back="${at}"]`)?.scrollIntoView({ block: 'nearest' }));

  const keys = $derived([
    ...(view?.sorts ?? []).map((s) => ({ keys: s.key, does: `${s.name}: ${s.hint}` })),
    { keys: 'Enter', does: 'take the line down' },
    { keys: 'f', does: 'a photograph of the last step' },
    { keys: '↑ ↓', does: 'along the way back together' },
    { keys: 'Space', does: 'it is back in; again: out' },
    { keys: '−', does: 'one of them is missing' },
    { keys: 'm', does: 'apart or together, on a narrow screen' },
  ]);
</script>

<svelte:window onfocus={() => void load()} />

{#if missing}
  <Nowhere title="This job cannot be shown" text={missing} />
{:else if view}
  <JobFrame head={view} here="Open up" {keys} {onkey} onpower={() => void load()}>
    <main class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)] lg:overflow-hidden">
      <div class="flex gap-2 p-[12px_18px_0] lg:hidden" role="group" aria-label="Apart or together">
        {#each [false, true] as way (way)}
          <button
            type="button"
            class={['h-11 flex-1 rounded-md border-2', together === way ? 'border-ink font-semibold' : 'border-line']}
            aria-pressed={together === way}
            onclick={() => (together = way)}>{way ? 'Together again' : 'Apart'}</button
          >
        {/each}
      </div>
      <section
        class={[
          'border-line min-h-0 min-w-0 flex-col gap-2 p-[12px_18px] lg:flex lg:border-r',
          together ? 'hidden' : 'flex',
        ]}
      >
        <h2 class="lead max-lg:hidden">Apart</h2>
        {#if view.power.state !== 'discharged' && !closed}
          <p class="border-hazard border-l-4 pl-3 font-semibold" data-test="mind-power">
            {view.power.says}
          </p>
        {/if}
        {#if !closed}
          <div class="flex flex-wrap gap-1.5" role="group" aria-label="Kind of step">
            {#each view.sorts as s (s.kind)}
              <button
                type="button"
                class={[
                  'flex h-10 items-center gap-1.5 rounded-md border-2 px-2.5',
                  s.kind === kind ? 'border-ink font-semibold' : 'border-line',
                ]}
                aria-pressed={s.kind === kind}
                onclick={() => choose(s.kind)}><Kbd>{s.key}</Kbd>{s.name}</button
              >
            {/each}
          </div>
          <form
            class="border-ink bg-panel focus-within:border-measured flex items-center gap-3 rounded-lg border-2 px-3 py-1"
            onsubmit={(e) => {
              e.preventDefault();
              void log();
            }}
          >
            <label for="step" class="text-soft flex-none">{sort?.name}</label>
            <input
              id="step"
              bind:this={field}
              class="text-entry min-w-0 flex-1 border-0 bg-transparent p-0 focus:ring-0 focus-visible:outline-none"
              autocomplete="off"
              enterkeyhint="done"
              placeholder={sort?.hint}
              value={text}
              oninput={(e) => type(e.currentTarget.value)}
              onkeydown={(e) => {
                if (e.key !== 'Escape') return;
                type('');
                e.currentTarget.blur();
              }}
            />
          </form>
          <p class="text-small text-soft min-h-[20px]" role="status">
            {#if trouble}<span class="text-fault font-semibold" role="alert">{trouble}</span>
            {:else if read?.problem}{read.problem}
            {:else if read}{read.says}{read.mind ? `; mind: ${read.mind}` : ''}
            {:else}How many, what, where, what to mind, with commas between.{/if}
          </p>
        {/if}
        <ol class="min-h-0 flex-1 lg:overflow-y-auto" aria-label="Steps">
          {#each steps as step, i (step.id)}
            <li class={['border-rule border-t py-1.5 first:border-0', step.struck && 'text-soft']}>
              <div class="grid grid-cols-[28px_minmax(0,1fr)_auto_auto] items-baseline gap-2">
                <span class="figure text-soft">{steps.length - i}</span>
                <span class={step.struck ? 'line-through' : ''}>
                  {step.says}
                  {#if step.mind}<b class="block"><span class="text-hazard" aria-hidden="true">▲</span> {step.mind}</b
                    >{/if}
                </span>
                <span class="figure text-small text-soft">{when(step.taken)}</span>
                {#if !step.struck && !closed}
                  <button
                    type="button"
                    class="text-soft hover:text-fault px-1"
                    aria-label="Strike out step {step.says}"
                    onclick={() => void keep(() => api.strikeStep(number, step.id, {}))}>✕</button
                  >
                {/if}
              </div>
              {#if !step.struck}
                <div class="mt-1 pl-9">
                  <Pictures
                    bind:this={pictures[step.id]}
                    job={number}
                    step={step.id}
                    ids={step.pictures ?? []}
                    {closed}
                    onchange={() => void load()}
                  />
                </div>
              {/if}
            </li>
          {:else}
            <li class="text-soft py-1">
              Nothing undone yet. Press the key of what you undo first, write one line, Enter. Which way round a plug
              goes and which screw is the odd one is worth a picture.
            </li>
          {/each}
        </ol>
      </section>

      <section
        class={['min-h-0 min-w-0 flex-col gap-2 p-[12px_18px] lg:flex', together ? 'flex' : 'hidden']}
        aria-label="Together again"
      >
        <h2 class="lead max-lg:hidden">Together again</h2>
        <p
          class={['text-say font-semibold text-pretty', view.assembly.over.length > 0 && 'text-fault']}
          data-test="assembly"
        >
          {view.assembly.says}
        </p>
        <ol class="min-h-0 flex-1 lg:overflow-y-auto" aria-label="Back in">
          {#each back as b, i (b.step.id)}
            <li
              data-back={i}
              class={[
                'grid grid-cols-[minmax(0,1fr)_auto] items-center gap-3 rounded-md border-2 p-1.5',
                i === at ? 'border-ink' : 'border-transparent',
              ]}
            >
              <div class={b.done ? 'text-soft' : ''}>
                {b.says}
                {#if b.step.mind}<b class="block"><span class="text-hazard" aria-hidden="true">▲</span> {b.step.mind}</b
                  >{/if}
              </div>
              <div class="flex items-center gap-1.5">
                {#if b.step.count > 1}
                  <button
                    type="button"
                    class="border-line h-11 w-9 rounded-md border-2"
                    aria-label="One less of {b.says}"
                    onclick={() => void putBack(b, Math.max((b.touched ? b.in : b.step.count) - 1, 0))}>−</button
                  >
                {/if}
                <button
                  type="button"
                  class={[
                    'flex h-11 min-w-20 items-center justify-center gap-1.5 rounded-md border-2 px-2',
                    b.touched && !b.done && b.in > 0 ? 'border-fault text-fault font-bold' : 'border-line',
                  ]}
                  aria-pressed={b.done}
                  aria-label="{b.says}: {b.in} of {b.step.count} back in"
                  onclick={() => {
                    at = i;
                    void putBack(b, b.done ? 0 : b.step.count);
                  }}
                >
                  {#if b.done}
                    <svg width="16" height="14" aria-hidden="true"
                      ><path d="M2 7l4 5 9-11" fill="none" class="stroke-expect" stroke-width="2.4" /></svg
                    >
                  {/if}
                  <span class="figure">{b.in}/{b.step.count}</span>
                </button>
              </div>
            </li>
          {/each}
        </ol>
        {#if view.assembly.tallies.length > 0}
          <table class="text-small w-full">
            <thead>
              <tr class="text-soft text-left"
                ><th class="font-normal">Counted</th><th class="w-12 text-right font-normal">out</th><th
                  class="w-12 text-right font-normal">in</th
                ></tr
              >
            </thead>
            <tbody>
              {#each view.assembly.tallies as t (t.kind + t.what)}
                <tr class="border-rule border-t"
                  ><td>{t.what}</td><td class="figure text-right">{t.out}</td><td class="figure text-right">{t.in}</td
                  ></tr
                >
              {/each}
            </tbody>
          </table>
        {/if}
      </section>
    </main>
  </JobFrame>
{/if}

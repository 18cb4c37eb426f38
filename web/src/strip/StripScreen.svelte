<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'open',
    key: '3',
    name: 'Open up',
    order: 30,
    route: '/jobs/:number/open',
    of: 'steps',
  };
</script>

<script lang="ts">
  import { Kbd } from 'flowbite-svelte';
  import { api } from '../api/client';
  import type { Line, LineRead, StripBack, StripView } from '../api/types.gen';
  import { Entry } from '../shared/entry';
  import { Kept } from '../shared/kept.svelte';
  import { declare } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import StepLine from './StepLine.svelte';
  import Steps from './Steps.svelte';
  import Together from './Together.svelte';

  let { params }: { params: { number: string } } = $props();

  const number = $derived(Number(params.number));
  const kept = new Kept<StripView>(() => api.strip(number));
  const view = $derived(kept.view);
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

  $effect(() => void kept.load());

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
    if (await kept.keep(() => api.takeApart(number, step))) {
      entry.done();
      // So that the next key is a sort of step again; a phone keeps its keyboard open.
      if (text === '' && !matchMedia('(pointer: coarse)').matches) field?.blur();
    } else {
      const why = kept.trouble;
      type(typed);
      kept.trouble = why;
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
    if (await kept.keep(() => api.putBack(number, b.step.id, { count }))) {
      if (count === b.step.count) at = Math.min(i + 1, back.length - 1); // on to the next
    }
  }

  const here = () => back[at];
  const commands = declare({
    sort: {
      get keys() {
        return view?.sorts.map((s) => s.key) ?? [];
      },
      title: '',
      lines: () => (view?.sorts ?? []).map((s) => ({ keys: s.key, does: `${s.name}: ${s.hint}` })),
      when: () => !closed,
      act(key) {
        const chosen = view?.sorts.find((s) => s.key === key);
        if (!chosen) return false;
        choose(chosen.kind);
      },
    },
    down: { keys: ['Enter'], title: 'take the line down' },
    photograph: {
      keys: ['f'],
      title: 'a photograph of the last step',
      when: () => steps[0] !== undefined,
      act: () => pictures[steps[0]?.id ?? '']?.choose(),
    },
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the way back together',
      act: (key) => (at = Math.max(0, Math.min(at + (key === 'ArrowDown' ? 1 : -1), back.length - 1))),
    },
    back: {
      keys: [' ', 'Enter'],
      shown: 'Space',
      title: 'it is back in; again: out',
      act() {
        if (document.activeElement instanceof HTMLButtonElement) return false;
        void putBack(here(), here()?.done ? 0 : (here()?.step.count ?? 0));
      },
    },
    less: {
      keys: ['-'],
      shown: '−',
      title: 'one of them is missing',
      when: () => here() !== undefined,
      act: () => oneLess(here()),
    },
    turn: { keys: ['m'], title: 'apart or together, on a narrow screen', act: () => (together = !together) },
  });
  function oneLess(b: StripBack | undefined) {
    if (b) void putBack(b, Math.max((b.touched ? b.in : b.step.count) - 1, 0));
  }
</script>

<svelte:window onfocus={() => void kept.load()} />

{#if kept.missing}
  <Nowhere title="This job cannot be shown" text={kept.missing} />
{:else if view}
  <JobFrame head={view} here="Open up" {commands} again={() => void kept.load()}>
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
          <StepLine {sort} {text} {read} trouble={kept.trouble} bind:field ontype={type} onlog={() => void log()} />
        {/if}
        <Steps
          {steps}
          {number}
          sheet={view.sheetId}
          {closed}
          bind:pictures
          onstrike={(id) => void kept.keep(() => api.strikeStep(number, id, {}))}
          onchange={() => void kept.load()}
        />
      </section>

      <Together
        assembly={view.assembly}
        bind:at
        shown={together}
        onback={(b, count) => void putBack(b, count)}
        onless={oneLess}
      />
    </main>
  </JobFrame>
{/if}

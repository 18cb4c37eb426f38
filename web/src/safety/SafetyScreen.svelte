<script lang="ts">
  import { tick } from 'svelte';
  import { Button, Input, Kbd } from 'flowbite-svelte';
  import { link, push } from 'svelte-spa-router';
  import { api, newId, Refusal, told } from '../api/client';
  import type { Happening, ReservoirView, SafetyView } from '../api/types.gen';
  import { Fresh } from '../shared/fresh';
  import JobFrame from '../shared/JobFrame.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import { engineering, moment, when } from '../shared/format';
  import Sign from './Sign.svelte';

  let { params }: { params: { number: string } } = $props();

  const number = $derived(Number(params.number));
  let view = $state.raw<SafetyView | null>(null);
  const fresh = new Fresh();
  let missing = $state('');
  let trouble = $state('');
  let at = $state(0); // the caution under the cursor
  let asking = $state<{ name: string; text: string; why: string } | null>(null);
  let typed: Record<string, string> = $state({});
  const sums = $state({ below: '', seconds: '', through: '' });

  async function load() {
    try {
      view = (await fresh.ask(() => api.safety(number, { ...sums }))) ?? view;
      trouble = '';
    } catch (error) {
      if (view === null) missing = told(error);
      else trouble = told(error);
    }
  }
  $effect(() => void load());

  async function happen(happening: Omit<Happening, 'id'>): Promise<boolean> {
    try {
      view = await fresh.change(() => api.happen(number, { id: newId(), ...happening }, { ...sums }));
      trouble = '';
      asking = null;
      return true;
    } catch (error) {
      if (error instanceof Refusal && error.details.title === 'To be confirmed') {
        asking = { name: happening.subject, text: happening.text, why: error.message };
        trouble = '';
      } else {
        trouble = told(error);
      }
      return false;
    }
  }
  async function measured(name: string, text: string, confirmed = false) {
    if (text.trim() === '') return;
    if (!(await happen({ kind: 'residual', subject: name, text, confirmed }))) return;
    typed[name] = '';
    (document.activeElement as HTMLElement | null)?.blur(); // so that m goes on to the next one
  }
  function tickOff(key: string, on: boolean) {
    void happen({ kind: on ? 'untick' : 'tick', subject: key, text: '', confirmed: false });
  }

  // The caution under the cursor stays in sight.
  $effect(() => document.querySelector(`[data-caution="${at}"]`)?.scrollIntoView({ block: 'nearest' }));

  // Enter answers what is asked.
  $effect(() => {
    if (asking) void tick().then(() => document.querySelector<HTMLElement>('[data-test=confirm]')?.focus());
  });

  const closed = $derived(view?.finished !== null);
  const open = $derived((view?.cautions ?? []).filter((c) => c.ticked === null).length);

  function onkey(event: KeyboardEvent): boolean {
    const cautions = view?.cautions ?? [];
    const here = cautions[at];
    if (event.key === 'ArrowDown') at = Math.min(at + 1, cautions.length - 1);
    else if (event.key === 'ArrowUp') at = Math.max(at - 1, 0);
    else if ((event.key === ' ' || event.key === 'Enter') && here && !closed) {
      if (document.activeElement instanceof HTMLButtonElement) return false;
      tickOff(here.key, here.ticked !== null);
      at = Math.min(at + 1, cautions.length - 1);
    } else if (event.key === 'm') toNext();
    else if (event.key === 'Escape' && asking) notYet();
    else if (event.key === 'n') void push(`/jobs/${params.number}/open`);
    else return false;
    return true;
  }
  /** To the next capacitor that was not measured since the set was switched off; from the last one on, to the first such. */
  function toNext() {
    const all = view?.reservoirs ?? [];
    const open = all.find((r) => !r.measured) ?? all.find((r) => !r.safe) ?? all[0];
    if (open) document.querySelector<HTMLInputElement>(`input[data-residual="${CSS.escape(open.name)}"]`)?.focus();
  }
  /** What was asked is not so: back to what was typed. */
  function notYet() {
    const name = asking?.name ?? '';
    asking = null;
    document.querySelector<HTMLInputElement>(`input[data-residual="${CSS.escape(name)}"]`)?.focus();
  }
  const keys = [
    { keys: '↑ ↓', does: 'along the cautions' },
    { keys: 'Space or Enter', does: 'tick it off, or take the tick back' },
    { keys: 'm', does: 'the next capacitor not measured yet: type what is left on it; Enter takes it down' },
    { keys: 'n', does: 'on to opening it up' },
  ];
  const time = (seconds: number) => (seconds > 0 ? engineering(seconds, 's') : '');
  function resistor(r: ReservoirView): string {
    const d = r.discharge;
    if (d.ohms === 0) return 'below that already';
    const bears =
      d.ratedWatts > 0 ? `${engineering(d.ratedWatts, 'W')} or more` : 'no usual rating bears it: take longer';
    return `${engineering(d.ohms, 'Ω')}, ${bears}`;
  }
</script>

<svelte:window onfocus={() => void load()} />

{#if missing}
  <Nowhere title="This job cannot be shown" text={missing} />
{:else if view}
  <JobFrame head={view} here="Make safe" {keys} {onkey} onpower={() => void load()}>
    <main class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)] lg:overflow-hidden">
      <section class="border-line flex min-h-0 min-w-0 flex-col lg:border-r">
        <h2 class="text-say flex-none p-[12px_18px_0] font-semibold" data-test="cautions">
          {open === 0 ? 'Every caution of this set is ticked.' : `Before you open it or switch it on: ${open} to go.`}
        </h2>
        <Scroll class="p-[4px_18px]">
          <ul aria-label="Cautions">
            {#each view.cautions as caution, i (caution.key)}
              <li
                data-caution={i}
                class={[
                  'grid scroll-mb-8 grid-cols-[auto_minmax(0,1fr)_auto] items-start gap-x-3 rounded-md border-2 p-1.5',
                  i === at ? 'border-ink' : 'border-transparent',
                ]}
              >
                <span class="flex flex-col gap-1"
                  ><Sign code={caution.sign} />{#if caution.obey}<Sign code={caution.obey} />{/if}</span
                >
                <div class={caution.ticked ? 'text-soft' : ''}>
                  <b>{caution.title}</b>
                  <span class="text-small text-soft">before {caution.before === 'open' ? 'opening' : 'power'}</span>
                  {#if caution.where.length > 0}<span class="text-small block font-semibold"
                      >{caution.where.join('; ')}</span
                    >{/if}
                  <span class="block leading-snug">{caution.do}</span>
                </div>
                <button
                  type="button"
                  class="border-line hover:border-ink flex h-11 min-w-24 items-center justify-center gap-1.5 rounded-md border-2 px-2"
                  aria-pressed={caution.ticked !== null}
                  aria-label="{caution.title}: {caution.ticked ? 'ticked' : 'not ticked'}"
                  disabled={closed}
                  title={caution.ticked ? moment(caution.ticked) : ''}
                  onclick={() => tickOff(caution.key, caution.ticked !== null)}
                >
                  {#if caution.ticked}
                    <svg width="16" height="14" aria-hidden="true"
                      ><path d="M2 7l4 5 9-11" fill="none" class="stroke-expect" stroke-width="2.4" /></svg
                    ><span class="figure text-small">{when(caution.ticked)}</span>
                  {:else}
                    Done
                  {/if}
                </button>
              </li>
            {/each}
          </ul>
        </Scroll>
        <p class="border-hazard m-[6px_18px_10px] flex-none border-l-4 py-1 pl-3 font-semibold">{view.deferral}</p>
      </section>

      <section class="flex min-h-0 min-w-0 flex-col">
        <Scroll class="p-[12px_18px] [&>div]:flex [&>div]:flex-col [&>div]:gap-2">
          <h2 class="lead">Power</h2>
          <p class="text-say font-semibold text-pretty" data-test="power-says">{view.power.says}</p>
          <p class="text-soft"><Kbd>o</Kbd> {closed ? 'says that it is off.' : 'says how the set stands.'}</p>
          {#if trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
          {#if asking}
            {@const ask = asking}
            <div class="border-hazard border-l-4 pl-3" role="alert">
              <p class="font-semibold">{ask.why}</p>
              <Button data-test="confirm" class="mt-1.5" onclick={() => void measured(ask.name, ask.text, true)}
                >Yes, {ask.name}: {ask.text}</Button
              >
              <Button color="alternative" class="mt-1.5" onclick={notYet}>No, back to it</Button>
            </div>
          {/if}
          {#if view.reservoirs.length > 0}
            <h2 class="lead mt-1">Reservoirs</h2>
            <form
              class="grid grid-cols-3 gap-3"
              onsubmit={(e) => {
                e.preventDefault();
                void load();
              }}
            >
              <label class="text-small text-soft"
                >Down to below<Input
                  class="figure"
                  placeholder={view.below}
                  bind:value={sums.below}
                  onblur={() => void load()}
                /></label
              >
              <label class="text-small text-soft"
                >In<Input
                  class="figure"
                  placeholder={view.seconds}
                  bind:value={sums.seconds}
                  onblur={() => void load()}
                /></label
              >
              <label class="text-small text-soft"
                >Resistor at hand<Input
                  class="figure"
                  placeholder="none"
                  bind:value={sums.through}
                  onblur={() => void load()}
                /></label
              >
              <button type="submit" class="hidden">work out</button>
            </form>
            {#each view.reservoirs as r (r.name)}
              <div class="border-line bg-panel focus-within:border-ink rounded-md border-2 px-3 py-2">
                <div class="flex flex-wrap items-baseline gap-x-3">
                  <b class="text-name">{r.name}</b>
                  <span class="figure">{r.farads}, {r.volts}</span>
                  <span class="text-soft">{r.rail}</span>
                  <span class="figure ml-auto">{engineering(r.discharge.joules, 'J')}</span>
                </div>
                <dl class="mt-1 grid grid-cols-[max-content_1fr] gap-x-3">
                  <dt class="text-soft">Discharge through</dt>
                  <dd><b class="figure">{resistor(r)}</b></dd>
                  {#if r.discharge.ohms > 0}
                    <dt class="text-soft">That takes</dt>
                    <dd>
                      <span class="figure">{time(r.discharge.seconds)}</span>, {engineering(r.discharge.peakWatts, 'W')} at
                      first
                    </dd>
                  {/if}
                  <dt class="text-soft">By itself</dt>
                  <dd>
                    {#if r.bleeder}<span class="figure">{time(r.discharge.bleederSeconds)}</span> through its bleeder of {r.bleeder}{:else}never
                      counted on: no bleeder on the sheet{/if}
                  </dd>
                  {#if r.discharge.throughSeconds > 0}
                    <dt class="text-soft">Through {view.through}</dt>
                    <dd class="figure">{time(r.discharge.throughSeconds)}</dd>
                  {/if}
                </dl>
                <form
                  class="mt-1.5 flex flex-wrap items-center gap-3"
                  onsubmit={(e) => {
                    e.preventDefault();
                    void measured(r.name, typed[r.name] ?? '');
                  }}
                >
                  <label class="flex items-center gap-2 whitespace-nowrap"
                    ><b class="text-weight" data-test="residual-of">{r.name}</b> left on it
                    <Input
                      class="figure w-28"
                      data-residual={r.name}
                      placeholder="V"
                      bind:value={() => typed[r.name] ?? '', (text) => (typed[r.name] = text)}
                      onkeydown={(e: KeyboardEvent) => {
                        if (e.key === 'Escape') (e.currentTarget as HTMLInputElement).blur();
                      }}
                    /></label
                  >
                  {#if r.measured}
                    <span class={r.safe ? 'text-expect font-semibold' : 'text-fault font-bold'}
                      >{r.safe ? '✓' : '▲'} {r.measured} measured</span
                    >
                  {:else}
                    <span class="text-soft">not measured since it was switched off</span>
                  {/if}
                </form>
              </div>
            {/each}
          {/if}
          {#if view.refused.length > 0}
            <h2 class="lead mt-1">Not with the {view.instrument}</h2>
            <ul>
              {#each view.refused as refused (refused.point)}
                <li><span class="text-hazard" aria-hidden="true">▲</span> <b>{refused.point}</b>: {refused.why}</li>
              {/each}
            </ul>
          {/if}
        </Scroll>
        <p class="border-line flex-none border-t p-[8px_18px]">
          <a use:link href="/jobs/{view.number}/open" class="text-measured underline">On to opening it up</a>
          <Kbd>n</Kbd>
        </p>
      </section>
    </main>
  </JobFrame>
{/if}

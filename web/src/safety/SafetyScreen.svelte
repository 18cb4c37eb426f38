<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = { id: 'safe', key: '2', name: 'Make safe', order: 20, route: '/jobs/:number/safe' };
</script>

<script lang="ts">
  import { tick } from 'svelte';
  import { Button, Input, Kbd } from 'flowbite-svelte';
  import { link, push } from 'svelte-spa-router';
  import { api, newId, Refusal, told } from '../api/client';
  import type { Happening, SafetyView } from '../api/types.gen';
  import { Fresh } from '../shared/fresh';
  import { declare } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import Cautions from './Cautions.svelte';
  import Reservoir from './Reservoir.svelte';

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

  // Enter answers what is asked.
  $effect(() => {
    if (asking) void tick().then(() => document.querySelector<HTMLElement>('[data-test=confirm]')?.focus());
  });

  const closed = $derived(view?.finished !== null);
  const open = $derived((view?.cautions ?? []).filter((c) => c.ticked === null).length);

  const commands = declare({
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the cautions',
      act: (key) => move(key === 'ArrowDown' ? 1 : -1),
    },
    tick: {
      keys: [' ', 'Enter'],
      shown: 'Space or Enter',
      title: 'tick it off, or take the tick back',
      when: () => !closed && view?.cautions[at] !== undefined,
      act() {
        const here = view?.cautions[at];
        if (!here || document.activeElement instanceof HTMLButtonElement) return false;
        tickOff(here.key, here.ticked !== null);
        move(1);
      },
    },
    measure: {
      keys: ['m'],
      title: 'the next capacitor not measured yet: type what is left on it; Enter takes it down',
      act: () => toNext(),
    },
    notYet: { keys: ['Escape'], title: '', when: () => asking !== null, act: () => notYet() },
    on: { keys: ['n'], title: 'on to opening it up', act: () => push(`/jobs/${params.number}/open`) },
  });
  function move(by: number) {
    at = Math.max(0, Math.min(at + by, (view?.cautions.length ?? 0) - 1));
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
</script>

<svelte:window onfocus={() => void load()} />

{#if missing}
  <Nowhere title="This job cannot be shown" text={missing} />
{:else if view}
  <JobFrame head={view} here="Make safe" {commands} again={() => void load()}>
    <main class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)] lg:overflow-hidden">
      <section class="border-line flex min-h-0 min-w-0 flex-col lg:border-r">
        <h2 class="text-say flex-none p-[12px_18px_0] font-semibold" data-test="cautions">
          {open === 0 ? 'Every caution of this set is ticked.' : `Before you open it or switch it on: ${open} to go.`}
        </h2>
        <Scroll class="p-[4px_18px]">
          <Cautions cautions={view.cautions} {at} {closed} ontick={tickOff} />
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
              <Reservoir
                reservoir={r}
                through={view.through}
                bind:text={() => typed[r.name] ?? '', (text) => (typed[r.name] = text)}
                onmeasured={(text) => void measured(r.name, text)}
              />
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
          <Key of="on" />
        </p>
      </section>
    </main>
  </JobFrame>
{/if}

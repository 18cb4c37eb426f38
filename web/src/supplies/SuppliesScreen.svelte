<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'supplies',
    key: '4',
    name: 'Supplies',
    order: 40,
    route: '/jobs/:number/supplies',
  };
</script>

<script lang="ts">
  import Key from '../shared/Key.svelte';
  import { link } from 'svelte-spa-router';
  import Modal from '../shared/Modal.svelte';
  import type { JobView, Judged, SupplyRail } from '../api/types.gen';
  import { Bench, type Quantity } from '../bench/bench.svelte';
  import Dialogs from '../bench/Dialogs.svelte';
  import { readingKeys } from '../bench/keys';
  import Placed from '../board/Placed.svelte';
  import ReadingPanel from '../bench/ReadingPanel.svelte';
  import JobFrame from '../shared/JobFrame.svelte';
  import { declare, typing } from '../shared/commands';
  import Nowhere from '../shared/Nowhere.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import RepairDialog from '../shared/RepairDialog.svelte';
  import Chain from './Chain.svelte';
  import Hunt from './Hunt.svelte';

  let { params }: { params: { number: string } } = $props();

  const bench = $derived(new Bench(Number(params.number), wanted));
  let field: HTMLInputElement | undefined = $state();
  let striking = $state.raw<Judged | null>(null);
  let careful = $state(false);
  let repairing = $state(false);

  $effect(() => void bench.load());
  $effect(() => void bench.loadTools());

  const view = $derived(bench.view);
  const rails = $derived(view?.supplies ?? []);
  const closed = $derived(view?.finished !== null);

  function bad(rail: SupplyRail): boolean {
    return !['', 'good', 'waiting'].includes(rail.state);
  }

  /** The first thing that is still to be read, in the order the rails come up. */
  function wanted(v: JobView): { point: string; quantity: Quantity; without: string[] } | null {
    const rail = v.supplies.find(bad) ?? v.supplies[0];
    const check = v.supplies.flatMap((r) => r.next)[0];
    return check ?? (rail ? { point: rail.name, quantity: rail.hunt ? 'resistance' : 'dc', without: [] } : null);
  }
  const next = $derived(rails.flatMap((r) => r.next)[0] ?? null);
  const worst = $derived(rails.find(bad) ?? rails.find((r) => r.next.length > 0) ?? rails[0]);
  const sound = $derived(rails.length > 0 && rails.every((r) => r.state === 'good') && next === null);
  const ofSupplies = (j: Judged) =>
    ['track', 'temperature'].includes(j.reading.quantity) ||
    rails.some((r) => r.name === j.reading.point || r.elements.some((e) => e.name === j.reading.point));

  const states: Record<SupplyRail['state'], string> = {
    '': 'not read',
    good: '✓ good',
    waiting: '… waits for the start',
    missing: '✕ missing',
    low: '▾ low',
    high: '▴ high',
    rippling: '≋ rippling',
    shorted: '✕ shorted',
  };

  function step(by: number) {
    const at = rails.findIndex((r) => r.name === bench.aim);
    const rail = rails[Math.min(Math.max(at + by, 0), rails.length - 1)];
    if (rail) bench.aimFor(rail.name);
  }
  const open = () => !closed;
  const commands = declare({
    ...typing(() => field, open, 'type a reading of the aimed rail', 'type a word: ok, none, hum'),
    along: {
      keys: ['ArrowDown', 'ArrowUp', 's'],
      shown: '↑ ↓',
      title: 'along the rails, in the order they come up',
      act: (key) => step(key === 'ArrowUp' ? -1 : 1),
    },
    ...readingKeys(() => bench, open),
    repair: {
      keys: ['a'],
      title: 'what was done: a repair, a bridged fuse, something lifted',
      when: open,
      act: () => (repairing = true),
    },
    strike: {
      keys: ['x'],
      title: 'strike out the last reading',
      when: open,
      act: () => (striking = bench.log.filter(ofSupplies).find((j) => !j.reading.struck) ?? null),
    },
  });
</script>

<svelte:window onfocus={() => void bench.load()} />

{#if bench.missing}
  <Nowhere title="This job cannot be shown" text={bench.missing} />
{:else if view}
  <JobFrame head={view} here="Supplies" {commands} again={() => void bench.load()}>
    <main
      class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)] lg:overflow-hidden"
    >
      <section class="border-line flex min-h-0 min-w-0 flex-col lg:border-r">
        <Scroll class="p-[12px_18px]">
          {#if rails.length === 0}
            <p class="text-say font-semibold">The sheet has no rails.</p>
            <p>Add them on the sheet, with what they come from: a missing supply is the commonest fault there is.</p>
          {:else}
            <p
              class={['text-say font-semibold text-pretty', worst && bad(worst) && 'text-fault']}
              data-test="supply-says"
            >
              {sound
                ? rails.length === 1
                  ? `${rails[0]?.name} is good.`
                  : `All ${rails.length} supplies are good.`
                : (worst?.says ?? '')}
            </p>
            {#if next}
              <button
                type="button"
                class="mt-0.5 text-left font-semibold underline decoration-dotted"
                onclick={() => bench.aimNext()}>Next: {next.text}</button
              >
            {/if}
            {#if sound && !closed}
              <a class="text-measured underline" use:link href="/jobs/{view.number}"
                >On to the bench <Key to="bench" /></a
              >
            {/if}
            <ul class="mt-2" aria-label="Rails">
              {#each rails as rail (rail.name)}
                <li class={['rounded-md border-2 p-2', rail.name === bench.aim ? 'border-ink' : 'border-transparent']}>
                  <div class="flex flex-wrap items-baseline gap-x-3">
                    <button
                      type="button"
                      class="text-name font-bold"
                      aria-label="Aim at rail {rail.name}"
                      onclick={() => bench.aimFor(rail.name)}>{rail.name}</button
                    >
                    <span class="text-soft">{rail.up}</span>
                    <b class={bad(rail) ? 'text-fault' : rail.state === 'good' ? 'text-expect' : 'text-soft'}
                      >{states[rail.state]}</b
                    >
                    <span class="figure ml-auto"
                      >{rail.read || '–'}{rail.ripple ? ` ~ ${rail.ripple}` : ''}{rail.ohms
                        ? `, ${rail.ohms} off`
                        : ''}</span
                    >
                  </div>
                  <div class="mt-1"><Chain {rail} onaim={(name) => bench.aimFor(name)} /></div>
                  {#if bad(rail) && rail !== worst}<p class="mt-1 font-semibold">{rail.says}</p>{/if}
                  {#if rail.needed.length > 0}
                    <p class="text-small text-soft mt-0.5">needed by {rail.needed.join(', ')}</p>
                  {/if}
                  {#if rail.hunt}<Hunt hunt={rail.hunt} {bench} rail={rail.name} />{/if}
                </li>
              {/each}
            </ul>
          {/if}
        </Scroll>
      </section>
      <div class="flex min-h-0 min-w-0 flex-col [&>section]:border-r-0">
        {#if view}
          <Placed
            class="p-[12px_18px_0]"
            sheet={view.sheetId}
            revision={view.revision}
            names={[bench.aim]}
            href="/jobs/{view.number}/pictures"
          />
        {/if}
        <ReadingPanel {bench} bind:field lists={ofSupplies} onstrike={(reading) => (striking = reading)} />
        <p class="text-small text-soft p-[0_18px_12px]">
          Ohms with the set off and discharged only. Never fit a larger fuse.
          <button type="button" class="underline" onclick={() => (careful = true)}>Cautions</button>
        </p>
      </div>
    </main>
  </JobFrame>
  <Dialogs {bench} injecting={false} finishing={false} bind:striking />
  <RepairDialog number={bench.number} bind:open={repairing} stage={bench.aim} onnoted={(v) => bench.noted(v)} />
  <Modal title="Before you measure supplies" bind:open={careful} size="sm">
    <ul class="list-disc space-y-1 pl-5">
      <li>Place the probe with the set off, then switch on. One hand.</li>
      <li>
        Measure mains and hot rails with leads and a meter rated for them, never with a grounded scope on a live
        chassis.
      </li>
      <li>Bring a set that blew a fuse up slowly, through a lamp or a limited supply.</li>
      <li>Local codes and licensed practice come first.</li>
    </ul>
  </Modal>
{/if}

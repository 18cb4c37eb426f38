<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'adjust',
    key: 'a',
    name: 'Adjust',
    order: 80,
    route: '/jobs/:number/adjust',
    of: 'adjusting',
  };
</script>

<script lang="ts">
  import { tick, untrack } from 'svelte';
  import { Button } from 'flowbite-svelte';
  import { declare, typing } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import { Adjusting } from './adjusting.svelte';
  import AdjustDialog from './AdjustDialog.svelte';
  import HeatDialog from './HeatDialog.svelte';
  import List from './List.svelte';
  import MenuDialog from './MenuDialog.svelte';
  import Work from './Work.svelte';

  let { params }: { params: { number: string } } = $props();

  const it = $derived(new Adjusting(Number(params.number)));
  const view = $derived(it.kept.view);
  const closed = $derived(view?.finished !== null);
  let field: HTMLInputElement | undefined = $state();
  let turned: HTMLInputElement | undefined = $state();
  let reason: HTMLInputElement | undefined = $state();
  let heat = $state(false);
  let menu = $state(false);
  let editing = $state<'' | 'own' | 'new'>('');

  $effect(() => {
    const now = it;
    return untrack(() => now.begin());
  });

  /** What the meter has shown last, where it is watched, as it is typed. */
  const seen = $derived.by(() => {
    const last = it.watching ? it.at?.course.at(-1) : undefined;
    return last && it.at ? `${String(Number(last.si.toPrecision(5)))} ${it.at.unit}` : undefined;
  });
  const open = () => !closed && it.at !== undefined;
  const commands = declare({
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the adjustments',
      act: (key) => it.step(key === 'ArrowDown' ? 1 : -1),
    },
    tick: {
      keys: [' '],
      shown: 'Space',
      title: 'the next condition is met',
      when: () => open() && it.condition !== undefined,
      act() {
        if (document.activeElement instanceof HTMLButtonElement) return false;
        void it.tick();
      },
    },
    ...typing(() => field, open, 'type what is read; Enter keeps it', 'type a word'),
    turned: {
      keys: ['p'],
      title: 'where the control stands, for a least or a most',
      when: () => open() && turned !== undefined,
      act: () => turned?.focus(),
    },
    watch: {
      keys: ['v'],
      title: 'watch the meter; again: no more',
      when: () => open() && view?.meter !== '',
      act: () => (it.watching = !it.watching),
    },
    keep: {
      keys: ['k'],
      title: 'keep what the meter shows now',
      when: () => open() && seen !== undefined,
      act: () => it.keepSeen(seen ?? ''),
    },
    warm: {
      keys: ['h'],
      title: 'it is on, and warms up from now',
      when: () => open() && (it.at?.warm.needed ?? 0) > 0,
      act: () => void it.warm(),
    },
    leave: {
      keys: ['s'],
      title: 'leave it so: it is set',
      when: open,
      act() {
        void it.quiet().then(async () => {
          await tick(); // the field for a reason is there, or gone
          if (reason) reason.focus();
          else await it.leave();
        });
      },
    },
    strike: {
      keys: ['x'],
      title: 'the last reading was wrong: strike it out',
      when: () => open() && (it.at?.readings.length ?? 0) > 0,
      act: () => it.strike(),
    },
    heat: { keys: ['i'], title: 'what it takes while it idles, and how warm it gets', act: () => (heat = true) },
    menu: { keys: ['m'], title: 'the set’s own menu: values as found, changed, put back', act: () => (menu = true) },
    own: {
      keys: ['e'],
      title: 'the workshop’s own way of this adjustment',
      when: open,
      act: () => (editing = 'own'),
    },
    another: {
      keys: ['n'],
      title: 'an adjustment that the sheet does not have',
      when: () => !closed,
      act: () => (editing = 'new'),
    },
  });
</script>

<svelte:window onfocus={() => void it.load()} />

{#if it.kept.missing}
  <Nowhere title="This job cannot be shown" text={it.kept.missing} />
{:else if view}
  <JobFrame head={view} here="Adjust" {commands} again={() => void it.load()}>
    <main
      class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,360px)] lg:overflow-hidden"
      data-test="adjust"
    >
      <section class="bg-panel border-line flex min-h-0 min-w-0 flex-col p-[12px_18px] max-lg:border-b lg:border-r">
        <Scroll on="panel">
          {#if it.at}
            <Work {it} at={it.at} {closed} {seen} bind:field bind:turned bind:reason onmenu={() => (menu = true)} />
          {:else}
            <p class="text-say font-semibold text-pretty" data-test="says">The sheet has no adjustments yet.</p>
            <p class="text-soft mt-1">
              {view.offered.length > 0
                ? 'Its circuits have trimmers: take what they give, to the right.'
                : 'Write the first: what is turned, where that is measured, what it is set to.'}
            </p>
          {/if}
          {#if it.kept.trouble}
            <p class="border-fault text-fault mt-2 border-l-4 pl-3 font-semibold" role="alert">{it.kept.trouble}</p>
          {/if}
        </Scroll>
      </section>
      <section class="flex min-h-0 min-w-0 flex-col p-[12px_16px]">
        <Scroll>
          <List {it} {view} {closed} onnew={() => (editing = 'new')} />
          <div class="mt-3 flex flex-wrap gap-1.5">
            {#if it.at && !closed}
              <Button size="xs" color="alternative" onclick={() => (editing = 'own')}><Key of="own" />Own way</Button>
            {/if}
            {#if !closed}
              <Button size="xs" color="alternative" onclick={() => (editing = 'new')}
                ><Key of="another" />Another</Button
              >
            {/if}
            <Button size="xs" color="alternative" onclick={() => (heat = true)}><Key of="heat" />Idle watts</Button>
            <Button size="xs" color="alternative" onclick={() => (menu = true)}><Key of="menu" />Its menu</Button>
          </div>
          <h2 class="lead mt-4">Before you turn anything</h2>
          <ul class="border-hazard mt-1 border-l-4 pl-3" aria-label="Cautions">
            {#each view.cautions as c (c)}<li class="py-0.5 text-pretty">{c}</li>{/each}
          </ul>
        </Scroll>
      </section>
    </main>
  </JobFrame>
  {#if heat}<HeatDialog {it} {view} {closed} bind:open={heat} />{/if}
  {#if menu}<MenuDialog {it} {view} {closed} bind:open={menu} />{/if}
  {#if editing !== ''}
    <AdjustDialog
      {view}
      name={editing === 'own' ? (it.at?.name ?? '') : ''}
      bind:open={() => editing !== '', (shown) => (editing = shown ? editing : '')}
      onkept={async (name) => {
        await it.load();
        it.choose(name);
      }}
    />
  {/if}
{/if}

<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { Button } from 'flowbite-svelte';
  import { declare, typing } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import { Closings } from './closing.svelte';
  import ClosingDialog from './ClosingDialog.svelte';
  import ClosingTable from './ClosingTable.svelte';
  import ClosingWork from './ClosingWork.svelte';

  /** What is measured and tried before a set goes back: all of it, with the one that is at hand. */
  let { number }: { number: number } = $props();

  const it = $derived(new Closings(number));
  const view = $derived(it.kept.view);
  const closed = $derived(view?.finished !== null);
  let field: HTMLInputElement | undefined = $state();
  let reason: HTMLInputElement | undefined = $state();
  let editing = $state<'' | 'this' | 'new'>('');

  $effect(() => {
    const now = it;
    untrack(() => void now.load());
  });

  const open = () => !closed && it.at !== undefined;
  const commands = declare({
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the list',
      act: (key) => it.step(key === 'ArrowDown' ? 1 : -1),
    },
    good: {
      keys: ['y'],
      title: 'it is good',
      when: () => open() && (it.at?.works === true || it.at?.bounds === ''),
      act: () => void it.good(),
    },
    bad: {
      keys: ['b'],
      title: 'it is bad: say what is wrong',
      when: () => open() && !it.at?.cell,
      act() {
        it.text = 'bad: ';
        it.type();
        field?.focus();
      },
    },
    mark: {
      keys: ['1', '2', '3', '4', '5'],
      shown: '1 to 5',
      title: 'how it comes through: ok, weak, partly, none, cuts out',
      when: () => open() && it.at?.cell !== null,
      act: (key) => void it.log(it.at?.cell?.words[Number(key) - 1] ?? ''),
    },
    ...typing(
      () => field,
      () => open() && !it.at?.cell,
      'type what is read; Enter keeps it',
      'type a word',
    ),
    take: {
      keys: ['k'],
      title: 'let the instruments take it',
      when: () => open() && it.at?.steps === true && view?.meter !== '',
      act: () => void it.take(),
    },
    without: { keys: ['s'], title: 'do without it, with the reason', when: open, act: () => reason?.focus() },
    strike: {
      keys: ['x'],
      title: 'what was kept last of it was wrong: strike it out',
      when: () => open() && (it.at?.after?.id ?? it.at?.before?.id ?? '') !== '',
      act: () => it.strike(),
    },
    edit: {
      keys: ['e'],
      title: 'how it is measured in this model, and its limits',
      when: () => open() && !it.at?.cell,
      act: () => (editing = 'this'),
    },
    another: {
      keys: ['n'],
      title: 'another closing measurement of this model',
      when: () => !closed,
      act: () => (editing = 'new'),
    },
    soak: { keys: ['l'], title: 'back to the soak', act: () => void push(`/jobs/${String(number)}/prove`) },
  });
</script>

<svelte:window onfocus={() => void it.load()} />

{#if it.kept.missing}
  <Nowhere title="This job cannot be shown" text={it.kept.missing} />
{:else if view}
  <JobFrame head={view} here="Prove" {commands} again={() => void it.load()}>
    <main
      class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,400px)] lg:overflow-hidden"
      data-test="closing"
    >
      <section
        class="bg-panel border-line flex min-h-0 min-w-0 flex-col p-[10px_18px] max-lg:order-2 max-lg:border-t lg:border-r"
      >
        <Scroll on="panel">
          <ClosingTable {it} {view} />
          <div class="mt-3 flex flex-wrap gap-1.5">
            <Button size="xs" color="alternative" href="#/jobs/{view.number}/prove"><Key of="soak" />The soak</Button>
            {#if !closed}
              <Button size="xs" color="alternative" onclick={() => (editing = 'new')}
                ><Key of="another" />Another measurement</Button
              >
            {/if}
          </div>
          <p class="text-small text-soft mt-1">
            Ribbons: what is allowed. Where the sheet says nothing the limits are those of the trade, and broad.
          </p>
        </Scroll>
      </section>
      <section class="flex min-h-0 min-w-0 flex-col p-[12px_16px] max-lg:order-1">
        <Scroll>
          {#if it.at}
            <ClosingWork {it} {view} at={it.at} {closed} bind:field bind:reason onedit={() => (editing = 'this')} />
          {/if}
        </Scroll>
      </section>
    </main>
  </JobFrame>
  {#if editing !== ''}
    <ClosingDialog
      {view}
      name={editing === 'this' ? (it.at?.name ?? '') : ''}
      bind:open={() => editing !== '', (shown) => (editing = shown ? editing : '')}
      onkept={async (name) => {
        await it.load();
        it.choose(name);
      }}
    />
  {/if}
{/if}

<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'replace',
    key: 'r',
    name: 'Replace',
    order: 75,
    route: '/jobs/:number/replace',
    of: 'replacing',
  };
</script>

<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { Button } from 'flowbite-svelte';
  import { declare } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import { sums } from '../shared/keys.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import DrawerDialog from './DrawerDialog.svelte';
  import Fit from './Fit.svelte';
  import ModifyDialog from './ModifyDialog.svelte';
  import NetworkDialog from './NetworkDialog.svelte';
  import Offers from './Offers.svelte';
  import RenewDialog from './RenewDialog.svelte';
  import { Replacing } from './replace.svelte';
  import TypesDialog from './TypesDialog.svelte';
  import Work from './Work.svelte';

  let { params }: { params: { number: string } } = $props();

  const it = $derived(new Replacing(Number(params.number)));
  const view = $derived(it.kept.view);
  const closed = $derived(view?.finished !== null);
  let field: HTMLInputElement | undefined = $state();
  let named: HTMLInputElement | undefined = $state();
  let drawer = $state(false);
  let types = $state(false);
  let work: { picture: () => void } | undefined = $state();
  let modifying = $state(false);
  let modification = $state('');
  function modify(what: string) {
    modification = what;
    modifying = true;
  }
  let listing = $state(false);
  let sealed = $state(false);
  let tested: HTMLInputElement | undefined = $state();

  $effect(() => {
    const now = it;
    void sums.kept; // one that is kept belongs to what is seen here
    untrack(() => {
      modifying = false; // it belongs to one job
      void now.kept.load();
    });
  });

  const open = () => !closed;
  const commands = declare({
    offers: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along what may go in its place',
      act: (key) => it.step(key === 'ArrowDown' ? 1 : -1),
    },
    take: {
      keys: ['Enter'],
      title: 'take what is marked: from the drawer, or to be ordered',
      when: () => open() && it.marked !== undefined,
      act: () => it.take(),
    },
    parts: {
      keys: ['ArrowRight', 'ArrowLeft'],
      shown: '← →',
      title: 'along the parts that are to be replaced',
      act: (key) => it.along(key === 'ArrowRight' ? 1 : -1),
    },
    entry: {
      keys: ['e'],
      title: 'type something to be judged in its place; Enter judges, Enter again takes it',
      when: open,
      act: () => field?.focus(),
    },
    part: { keys: ['n'], title: 'name a part that is to be replaced', when: open, act: () => it.begin(false) },
    was: {
      keys: ['w'],
      title: 'what was there, and what it has to do',
      when: () => open() && it.part !== undefined,
      act: () => it.begin(true),
    },
    renew: {
      keys: ['l'],
      title: 'renew many: a list of parts, pasted or typed',
      when: open,
      act: () => (listing = true),
    },
    every: {
      keys: ['f'],
      title: 'take what fits best for all that nothing is chosen for',
      when: () => open() && (view?.parts.length ?? 0) > 1,
      act: () => it.chooseAll(),
    },
    test: {
      keys: ['t'],
      title: 'type what was measured of it',
      when: () => open() && it.part !== undefined,
      act: () => tested?.focus(),
    },
    tick: {
      keys: ['s'],
      title: 'the next step is done',
      when: () => open() && it.step1 !== undefined,
      act: () => it.tick(),
    },
    picture: {
      keys: ['c'],
      title: 'a picture of the step that is next; on a phone, with its camera',
      when: () => open() && it.step1 !== undefined,
      act: () => work?.picture(),
    },
    board: { keys: ['b'], title: 'of what the board is: turn', when: open, act: () => it.turnBoard() },
    fitted: {
      keys: ['a'],
      title: 'all of it is in: note the repair, and go on to the bench',
      when: () => open() && it.chosen > 0,
      act: () => fitted(),
    },
    drawer: { keys: ['k'], title: 'what lies in the drawer', act: () => (drawer = true) },
    sealed: { keys: ['x'], title: 'what is sealed in a package, from its pins', act: () => (sealed = true) },
    modify: {
      keys: ['m'],
      title: 'what the workshop changes in this model: look, or keep one',
      act: () => modify(view?.modifications[0]?.what ?? ''),
    },
    types: { keys: ['y'], title: 'the types of parts: look one up, enter one', act: () => (types = true) },
  });

  async function fitted() {
    if (await it.fitted()) void push(`/jobs/${params.number}`);
  }
  $effect(() => {
    if (it.naming !== null) named?.focus();
  });
</script>

<svelte:window onfocus={() => void it.kept.load()} />

{#if it.kept.missing}
  <Nowhere title="This job cannot be shown" text={it.kept.missing} />
{:else if view}
  <JobFrame head={view} here="Replace" {commands} again={() => void it.kept.load()}>
    <main
      class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,44%)_minmax(0,1fr)] lg:overflow-hidden"
      data-test="replace"
    >
      <section class="bg-panel border-line flex min-h-0 min-w-0 flex-col p-[12px_18px] max-lg:border-b lg:border-r">
        <Scroll on="panel">
          <p class="text-say font-semibold text-pretty" data-test="next-step">{view.says}</p>
          {#if !closed && it.chosen > 0 && it.step1 === undefined}
            <Button class="mt-2 self-start" size="sm" onclick={() => void fitted()}
              >Note the repair <Key of="fitted" /></Button
            >
          {/if}
          {#if it.kept.trouble}
            <p class="border-fault text-fault mt-2 border-l-4 pl-3 font-semibold" role="alert">{it.kept.trouble}</p>
          {/if}
          {#if it.naming !== null}
            <form
              class="mt-2 flex flex-col gap-2"
              onsubmit={(e) => {
                e.preventDefault();
                void it.name();
              }}
            >
              <div class="grid gap-2 sm:grid-cols-[1fr_2fr]">
                <label class="min-w-0"
                  >Part<input
                    bind:this={named}
                    class="field"
                    list="parts"
                    autocomplete="off"
                    placeholder="Q14"
                    bind:value={it.naming.part}
                    onkeydown={(e) => it.leave(e)}
                  /></label
                >
                <label class="min-w-0"
                  >What was there<input
                    class="field"
                    autocomplete="off"
                    placeholder="2SC1815; 47u 63v electrolytic; crack; connector"
                    bind:value={it.naming.was}
                    onkeydown={(e) => it.leave(e)}
                  /></label
                >
              </div>
              <label class="min-w-0"
                >What it has to do and bear, where that is known<input
                  class="field"
                  autocomplete="off"
                  placeholder="on a sink, 38 V, 2 A; or: coupling, 24 V, at 60 °C"
                  title={view.words}
                  bind:value={it.naming.duty}
                  onkeydown={(e) => it.leave(e)}
                /></label
              >
              <p class="text-small text-soft">Words: {view.words}.</p>
              <div class="flex gap-2">
                <Button type="submit" size="sm">Keep it</Button>
                <Button type="button" size="sm" color="alternative" onclick={() => (it.naming = null)}>Leave it</Button>
              </div>
            </form>
            <datalist id="parts"
              >{#each view.asks as name (name)}<option value={name}></option>{/each}</datalist
            >
          {:else if it.part}
            <Fit {it} {view} {closed} bind:tested />
          {/if}
          {#if it.naming === null && !closed}
            <div class="mt-3 flex flex-wrap gap-1.5">
              <Button size="xs" color="alternative" onclick={() => it.begin(false)}
                ><Key of="part" />Name a part or a damage</Button
              >
              {#if it.part}
                <Button size="xs" color="alternative" onclick={() => it.begin(true)}
                  ><Key of="was" />What was there</Button
                >
              {/if}
              <Button size="xs" color="alternative" onclick={() => (listing = true)}
                ><Key of="renew" />Renew many</Button
              >
              <Button size="xs" color="alternative" onclick={() => (drawer = true)}><Key of="drawer" />Drawer</Button>
              <Button size="xs" color="alternative" onclick={() => (types = true)}><Key of="types" />Types</Button>
              <Button size="xs" color="alternative" onclick={() => (sealed = true)}
                ><Key of="sealed" />Sealed package</Button
              >
              <Button size="xs" color="alternative" onclick={() => modify('')}><Key of="modify" />Modification</Button>
            </div>
          {/if}
        </Scroll>
      </section>
      <section class="flex min-h-0 min-w-0 flex-col p-[12px_16px]">
        <Scroll>
          <Offers {it} {view} {closed} bind:field />
          <Work bind:this={work} {it} {view} {closed} onfitted={() => void fitted()} onmodification={modify} />
        </Scroll>
      </section>
    </main>
  </JobFrame>
  {#if listing}<RenewDialog {it} {view} bind:open={listing} />{/if}
  {#if sealed}<NetworkDialog job={view.number} {closed} bind:open={sealed} onchanged={() => void it.kept.load()} />{/if}
  {#if modifying}
    <ModifyDialog {view} {closed} bind:open={modifying} bind:what={modification} onchanged={() => it.kept.load()} />
  {/if}
  {#if drawer}<DrawerDialog bind:open={drawer} onchanged={() => void it.kept.load()} />{/if}
  {#if types}<TypesDialog bind:open={types} onchanged={() => void it.kept.load()} />{/if}
{/if}

<style>
  .field {
    width: 100%;
    border: 2px solid var(--ink);
    border-radius: 8px;
    background: var(--panel);
    padding: 2px 10px;
    font-size: 17px;
  }
</style>

<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, now, told } from '../api/client';
  import type { NetworkResult, PackageRead, ReplaceHeld, ReplaceOpened, ReplacePackage } from '../api/types.gen';
  import { Entry } from '../shared/entry';
  import Modal from '../shared/Modal.svelte';

  /**
   * What is sealed in a package, from what a meter shows between its pins, and of what it is built anew. One that a
   * circuit of the set has is held against it.
   */
  interface Props {
    job: number;
    open: boolean;
    closed: boolean;
    onchanged: () => void;
  }
  let { job, open = $bindable(false), closed, onchanged }: Props = $props();

  let packages: ReplacePackage[] = $state.raw([]);
  let chosen = $state(-1);
  const known = $derived(packages[chosen]);
  let inside = $state('');
  let readings = $state('');
  let found: NetworkResult | null = $state.raw(null);
  let opened: ReplaceOpened | null = $state.raw(null);
  let asked: PackageRead | null = null; // that this answers
  const entry = new Entry();
  let trouble = $state('');
  let kept = $state('');
  let field: HTMLInputElement | undefined = $state();

  $effect(() => {
    api.sealed(job).then(
      (list) => {
        packages = list.packages;
        chosen = packages.length > 0 ? 0 : -1;
      },
      (error: unknown) => (trouble = told(error)),
    );
  });
  $effect(() => {
    if (field) setTimeout(() => field?.focus()); // behind the dialog's own first field
  });
  async function find() {
    kept = '';
    try {
      asked = known ? { stage: known.stage, package: known.name, readings } : null;
      opened = asked ? await api.openSealed(job, asked) : null;
      found = opened ?? (await api.network({ inside, readings }));
      trouble = '';
    } catch (error) {
      found = opened = null;
      trouble = told(error);
    }
  }
  /** Another package is another question. */
  function choose(i: number) {
    chosen = i;
    found = opened = null;
    trouble = kept = '';
  }
  /** What the readings tell of each part is kept as its value by itself, inside its stage. */
  const keep = () =>
    take(async (of) => {
      await api.keepSealed(job, { id: entry.idOf(['keep', of]), ...of });
      return `Kept inside ${of.stage}.`;
    });
  const rebuild = () =>
    take(async (of) => {
      await api.noteReplacing(job, { id: entry.idOf(['build', of]), at: now(), list: opened?.rebuild ?? '' });
      return 'On the list of what is to be renewed.';
    });
  async function take(act: (of: PackageRead) => Promise<string>) {
    if (!asked) return;
    try {
      kept = await act(asked);
      trouble = '';
      entry.done();
      onchanged();
    } catch (error) {
      kept = '';
      trouble = told(error);
    }
  }
  const words: Record<string, string> = { good: '✓ good', bad: '✕ bad', 'not sure': '? not sure' };
</script>

{#snippet made(p: NetworkResult['parts'][number], h: ReplaceHeld | undefined)}
  {#each p.made as m, i (m.text)}{i > 0 ? '; ' : 'of '}<span class="figure">{m.text}</span> ({m.off}{h?.made[i]
      ? `, exit ${h.made[i]}`
      : ''}){/each}
{/snippet}

<Modal bind:open title="Sealed package" size="lg">
  <form
    class="flex flex-col gap-2"
    onsubmit={(e) => {
      e.preventDefault();
      void find();
    }}
  >
    <p class="text-small">
      <span class="text-hazard" aria-hidden="true">▲</span> Out of the board, and empty: what stands beside it in the set
      is read along.
    </p>
    {#if packages.length > 0}
      <label
        >Which
        <select class="border-line bg-panel w-full rounded-md border px-3 py-1" bind:value={() => chosen, choose}>
          {#each packages as p, i (p.stage + p.name)}<option value={i}>{p.name} of {p.stage}</option>{/each}
          <option value={-1}>one that no circuit has</option>
        </select></label
      >
    {/if}
    {#if known}
      <p class="text-small">
        Inside: <span class="figure">{known.inside}</span>. Pins: {#each known.pins as p, i (p.pin)}{i > 0
            ? ', '
            : ''}<b>{p.pin}</b> at {p.node}{/each}.
      </p>
    {:else}
      <label
        >What is inside, each between two nodes: R or C; a node that is no pin by any name
        <input
          class="figure border-ink bg-panel w-full rounded-lg border-2 px-3 py-1"
          autocomplete="off"
          placeholder="1-2 R; 2-3 C; 2-x R; x-4 R"
          bind:value={inside}
        /></label
      >
    {/if}
    <label
      >What was read between its pins: ohms, or farads at 1 kHz
      <input
        bind:this={field}
        class="figure border-ink bg-panel w-full rounded-lg border-2 px-3 py-1"
        autocomplete="off"
        placeholder="1-2 10.1k; 2-3 46.5n; 2-4 24.9k"
        bind:value={readings}
      /></label
    >
    <div><Button type="submit" size="sm">Find the values</Button></div>
  </form>
  {#if trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
  {#if found}
    <div data-test="network">
      <p class="text-name font-semibold">{opened?.says ?? found.says}</p>
      <ul aria-label="Inside">
        {#each found.parts as p, i (p.name)}
          {@const h = opened?.held[i]}
          <li class="border-rule grid grid-cols-[7rem_7rem_minmax(0,1fr)] gap-x-3 border-t py-1">
            <b>{h ? `${h.part}, ` : ''}{p.name}</b>
            <span class={['figure', !p.told && 'text-fault']}>{p.value}</span>
            <span class="text-small text-soft">{@render made(p, h)}</span>
            {#if h}
              <span class={['col-span-2', h.stands === 'bad' ? 'text-fault font-semibold' : 'text-soft']}
                >{words[h.stands]}, {h.due} due</span
              >
              <span class="text-small text-soft"
                >{[h.says, h.moves && `1 % of it moves the ${h.moves}`, h.keeps].filter(Boolean).join('; ')}</span
              >
            {/if}
          </li>
        {/each}
      </ul>
      {#if found.wanted.length > 0}<p>Read too: <span class="figure">{found.wanted.join('; ')}</span></p>{/if}
      {#if opened && !closed}
        <div class="mt-2 flex flex-wrap items-baseline gap-2">
          <Button size="sm" color="alternative" onclick={() => void keep()}>Keep the values inside its stage</Button>
          <Button size="sm" color="alternative" onclick={() => void rebuild()}>Build it anew: onto the list</Button>
          <span role="status">{kept}</span>
        </div>
      {/if}
    </div>
  {/if}
</Modal>

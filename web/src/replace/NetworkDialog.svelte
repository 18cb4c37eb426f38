<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { NetworkResult } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';

  /** What is sealed in a package, from what a meter shows between its pins, and of what it is built anew. */
  let { open = $bindable(false) }: { open: boolean } = $props();

  let inside = $state('');
  let readings = $state('');
  let found: NetworkResult | null = $state.raw(null);
  let trouble = $state('');
  let field: HTMLInputElement | undefined = $state();

  $effect(() => {
    if (field) setTimeout(() => field?.focus()); // behind the dialog's own first field
  });
  async function find() {
    try {
      found = await api.network({ inside, readings });
      trouble = '';
    } catch (error) {
      found = null;
      trouble = told(error);
    }
  }
</script>

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
    <label
      >What is inside, each between two nodes: R or C; a node that is no pin by any name
      <input
        bind:this={field}
        class="figure border-ink bg-panel w-full rounded-lg border-2 px-3 py-1"
        autocomplete="off"
        placeholder="1-2 R; 2-3 C; 2-x R; x-4 R"
        bind:value={inside}
      /></label
    >
    <label
      >What was read between its pins: ohms, or farads at 1 kHz
      <input
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
      <p class="text-name font-semibold">{found.says}</p>
      <ul aria-label="Inside">
        {#each found.parts as p (p.name)}
          <li class="border-rule grid grid-cols-[6rem_9rem_minmax(0,1fr)] gap-3 border-t py-1">
            <b>{p.name}</b>
            <span class={['figure', !p.told && 'text-fault']}>{p.value}</span>
            <span class="text-small text-soft"
              >{#each p.made as m, i (m.text)}{i > 0 ? '; ' : 'of '}<span class="figure">{m.text}</span>
                ({m.off}){/each}</span
            >
          </li>
        {/each}
      </ul>
      {#if found.wanted.length > 0}<p>Read too: <span class="figure">{found.wanted.join('; ')}</span></p>{/if}
    </div>
  {/if}
</Modal>

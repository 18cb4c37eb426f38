<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { Put, ReplaceKept } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';

  /** What lies in the workshop's drawer. */
  let { open = $bindable(false), onchanged }: { open: boolean; onchanged: () => void } = $props();

  let kept: ReplaceKept[] = $state([]);
  let trouble = $state('');
  let line = $state('');
  let looked = $state('');

  const found = $derived(kept.filter((k) => k.what.toLowerCase().includes(looked.trim().toLowerCase())));

  async function change(put: Put) {
    try {
      kept = (await api.putDrawer(put)).kept;
      trouble = '';
      onchanged();
      return true;
    } catch (error) {
      trouble = told(error);
      return false;
    }
  }
  $effect(() => {
    api.drawer().then(
      (view) => (kept = view.kept),
      (error: unknown) => (trouble = told(error)),
    );
  });

  async function add() {
    if (line.trim() !== '' && (await change({ lines: line }))) line = '';
  }
</script>

<Modal bind:open title="What lies in the drawer" size="lg">
  {#if trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
  <form
    class="flex flex-col gap-2"
    onsubmit={(e) => {
      e.preventDefault();
      void add();
    }}
  >
    <label
      >Put in: how many, what, where it lies, its price; a line for each
      <textarea
        class="border-ink bg-panel w-full rounded-lg border-2 px-3 py-1"
        rows="2"
        placeholder="12 BC547B, box 3, 0.08"
        bind:value={line}
        onkeydown={(e) => {
          if (e.key === 'Enter' && !e.shiftKey) {
            e.preventDefault();
            void add();
          }
        }}></textarea></label
    >
    <p class="text-small text-soft">Enter puts it in; shift and Enter begin another line; 0 takes all of it out.</p>
  </form>
  <label class="block"
    >Look for <input class="border-line bg-panel rounded-md border px-2 py-0.5" bind:value={looked} /></label
  >
  <ul class="max-h-80 overflow-y-auto" aria-label="In the drawer">
    {#each found as k (k.what)}
      <li class="border-rule grid grid-cols-[4rem_minmax(0,1fr)_auto_auto] items-center gap-3 border-t py-0.5">
        <span class="figure">{k.count}</span><b>{k.what}</b>
        <span class="text-small text-soft">{[k.place, k.price].filter(Boolean).join(', ')}</span>
        <span class="flex gap-1">
          <Button size="xs" color="alternative" onclick={() => void change({ kept: [{ ...k, count: k.count - 1 }] })}
            >−1</Button
          >
          <Button size="xs" color="alternative" onclick={() => void change({ kept: [{ ...k, count: k.count + 1 }] })}
            >+1</Button
          >
        </span>
      </li>
    {:else}
      <li class="text-soft">Nothing yet.</li>
    {/each}
  </ul>
</Modal>

<script lang="ts">
  import { Input } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import type { Bench } from './bench.svelte';

  /** Aims at anything that the sheet has, on the route or not, by a piece of its name. */
  let { bench, open = $bindable() }: { bench: Bench; open: boolean } = $props();

  let sought = $state('');
  let at = $state(0);

  const kinds = { point: '', rail: 'rail', control: 'control', fuse: 'fuse', place: 'on the copper' };
  const found = $derived.by(() => {
    const text = sought.trim().toLowerCase();
    const all = bench.view?.spots ?? [];
    const begins = all.filter((s) => s.name.toLowerCase().startsWith(text));
    const holds = all.filter((s) => !begins.includes(s) && `${s.name} ${s.note}`.toLowerCase().includes(text));
    return [...begins, ...holds].slice(0, 12);
  });
  function take(name: string | undefined) {
    if (name === undefined) return;
    bench.aimFor(name);
    open = false;
  }
  function onkeydown(event: KeyboardEvent) {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by === undefined) return;
    at = Math.min(Math.max(at + by, 0), found.length - 1);
    event.preventDefault();
  }
</script>

<Modal title="Aim at" bind:open size="sm">
  <form
    class="text-ink flex flex-col gap-2"
    onsubmit={(e) => {
      e.preventDefault();
      take(found[at]?.name);
    }}
  >
    <label
      >A point, rail, control or fuse of the sheet<Input
        class="figure mt-1"
        bind:value={sought}
        autocomplete="off"
        autofocus
        oninput={() => (at = 0)}
        {onkeydown}
      /></label
    >
    <ul aria-label="Found">
      {#each found as spot, i (spot.kind + spot.name)}
        <li>
          <button
            type="button"
            class={['flex w-full items-baseline gap-2 rounded-md px-2 py-0.5 text-left', i === at && 'bg-chip']}
            onclick={() => take(spot.name)}
            ><b class="figure">{spot.name}</b><span class="text-small text-soft truncate"
              >{[kinds[spot.kind], spot.note].filter(Boolean).join(', ')}</span
            ></button
          >
        </li>
      {:else}
        <li class="text-soft">Nothing of this name. Add it to the sheet, and it can be read.</li>
      {/each}
    </ul>
  </form>
</Modal>

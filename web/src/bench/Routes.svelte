<script lang="ts">
  import { Select } from 'flowbite-svelte';
  import type { Bench } from './bench.svelte';

  /** The route being traced. */
  let { bench }: { bench: Bench } = $props();

  const view = $derived(bench.view);
</script>

{#if view && view.routes.length > 0}
  <label class="text-soft flex items-center gap-2 whitespace-nowrap">
    Route
    <Select
      placeholder=""
      class="w-auto max-w-64 font-semibold"
      value={view?.route}
      disabled={view?.finished !== null}
      onchange={(e) => bench.set({ route: e.currentTarget.value, at: '', level: '', frequency: '' })}
    >
      {#each view?.routes ?? [] as route (route.key)}
        <option value={route.key}>{route.name}</option>
      {/each}
    </Select>
  </label>
{/if}

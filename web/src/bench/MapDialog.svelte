<script lang="ts">
  import Modal from '../shared/Modal.svelte';
  import type { MapStage } from '../api/types.gen';
  import type { Bench } from './bench.svelte';
  import { large } from './map';
  import SetMap from './SetMap.svelte';

  /** The whole set; a click on a stage goes to a route that passes it. */
  let { bench, open = $bindable() }: { bench: Bench; open: boolean } = $props();

  const stages = $derived(bench.findings?.map ?? []);

  // Once more on the same stage takes the next route that passes it.
  async function pick(stage: MapStage) {
    if (bench.view?.finished !== null || stage.routes.length === 0) return;
    const at = stage.routes.indexOf(bench.view.route);
    const route = stage.routes[(at + 1) % stage.routes.length];
    if (route && route !== bench.view.route) await bench.set({ route, at: '', level: '', frequency: '' });
  }
</script>

<Modal title="The whole set" bind:open size="xl">
  <p class="text-small text-soft">
    The route being traced: <b class="text-measured"
      >{bench.view?.routes.find((r) => r.key === bench.view?.route)?.name}</b
    >. A click on a stage goes to a route that passes it, once more to the next. Hatched: suspect. ✓ Cleared. Dashed:
    leads back, or is needed besides the signal.
  </p>
  <div class="max-h-[64vh] overflow-auto">
    <SetMap {stages} size={large} named onpick={(stage) => void pick(stage)} />
  </div>
  {#if bench.trouble}<p class="text-fault font-semibold" role="alert">{bench.trouble}</p>{/if}
</Modal>

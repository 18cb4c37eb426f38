<script lang="ts">
  import Modal from '../shared/Modal.svelte';
  import type { MapStage } from '../api/types.gen';
  import type { Bench } from './bench.svelte';
  import { fitting } from './map';
  import SetMap from './SetMap.svelte';

  /** The whole set; a click on a stage goes to a route that passes it. */
  let { bench, open = $bindable() }: { bench: Bench; open: boolean } = $props();

  const stages = $derived(bench.findings?.map ?? []);
  // It fits the window, upright or across, whichever is larger.
  let width = $state(1000);
  let tall = $state(800);
  const fit = $derived(fitting(stages, Math.max(width - 4, 200), Math.max(0.66 * tall, 200)));

  // Once more on the same stage takes the next route that passes it.
  async function pick(stage: MapStage) {
    if (bench.view?.finished !== null || stage.routes.length === 0) return;
    const at = stage.routes.indexOf(bench.view.route);
    const route = stage.routes[(at + 1) % stage.routes.length];
    if (route && route !== bench.view.route) await bench.set({ route, at: '', level: '', frequency: '' });
  }
</script>

<svelte:window bind:innerHeight={tall} />

<Modal title="The whole set" bind:open size="xl">
  <p class="text-small text-soft">
    The route being traced: <b class="text-measured"
      >{bench.view?.routes.find((r) => r.key === bench.view?.route)?.name}</b
    >. A click on a stage goes to a route that passes it, once more to the next. Hatched: suspect. ✓ Cleared. Dashed:
    leads back, or is needed besides the signal.
  </p>
  <div class="max-h-[67vh] overflow-auto text-center [&>svg]:inline" bind:clientWidth={width}>
    <SetMap {stages} size={fit.size} scale={fit.scale} named onpick={(stage) => void pick(stage)} />
  </div>
  {#if bench.trouble}<p class="text-fault font-semibold" role="alert">{bench.trouble}</p>{/if}
</Modal>

<script lang="ts">
  import type { TrainingTrace } from '../api/types.gen';

  /** The waveform at each place, as it is over as it should be, each to its own scale. */
  let { traces }: { traces: TrainingTrace[] } = $props();
  const height = 74;
  let width = $state(700);

  function drawn(t: TrainingTrace) {
    const most = Math.max(...t.good.map(Math.abs), ...t.is.map(Math.abs), 1e-9);
    const path = (volts: number[]) =>
      volts
        .map(
          (v, i) =>
            `${((i * width) / (volts.length - 1)).toFixed(1)} ${(height / 2 - (0.44 * height * v) / most).toFixed(1)}`,
        )
        .join('L');
    return { good: `M${path(t.good)}`, is: `M${path(t.is)}` };
  }
</script>

<div class="mt-2 flex max-w-5xl flex-col gap-1" bind:clientWidth={width}>
  {#each traces as t (t.name)}
    {@const d = drawn(t)}
    <figure class="min-w-0">
      <figcaption class="figure text-small font-semibold">{t.name}</figcaption>
      <svg
        {width}
        {height}
        class="bg-panel border-line block rounded-md border"
        role="img"
        aria-label="waveform at {t.name}"
      >
        <line x1="0" x2={width} y1={height / 2} y2={height / 2} class="stroke-rule" />
        <path d={d.good} class="stroke-expect fill-none" stroke-width="5" stroke-opacity="0.35" />
        <path d={d.is} class="stroke-measured fill-none" stroke-width="1.8" />
      </svg>
    </figure>
  {/each}
  <p class="text-small text-soft">
    Broad: as it should be. <span class="text-measured font-semibold">Thin</span>: as it is. {1000 *
      (traces[0]?.seconds ?? 0)} ms.
  </p>
</div>

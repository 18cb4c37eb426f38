<script lang="ts">
  import type { ShelfPoint } from '../api/types.gen';
  import { layOut, marks, staircase, gutter } from '../bench/chart';

  let { points: kept }: { points: ShelfPoint[] } = $props();

  const points = $derived(
    kept.map((p) => ({
      expectedDBV: p.due ?? null,
      measuredDBV: p.read ?? null,
      lowDBV: p.due ?? null,
      highDBV: p.due ?? null,
      beforeDBV: null,
      verdict: p.verdict ?? '',
      off: '',
      source: '' as const,
    })),
  );

  const width = 230;
  const height = 52;
  // The chart's own geometry, drawn small: its gutter is cut off, its width squeezed.
  const layout = $derived(layOut(points, 400, 4, height - 4));
  const read = $derived(marks(points, layout));
</script>

{#if points.length > 0}
  <svg
    {width}
    {height}
    viewBox="{gutter} 0 {layout.width - gutter - 26} {height}"
    preserveAspectRatio="none"
    aria-hidden="true"
    class="max-w-full"
  >
    <path
      d={staircase(points, layout)}
      fill="none"
      class="stroke-expect"
      stroke-width="1.5"
      vector-effect="non-scaling-stroke"
    />
    {#each read as mark (mark.at)}
      <line
        x1={layout.left(mark.at)}
        x2={layout.left(mark.at + 1)}
        y1={mark.y}
        y2={mark.y}
        class={mark.bad ? 'stroke-fault' : 'stroke-measured'}
        stroke-width="3.5"
        vector-effect="non-scaling-stroke"
      />
    {/each}
  </svg>
{/if}

<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { AdjustStanding } from '../api/types.gen';

  /** What was read at several places of a control, and the curve through it with its least or most. */
  let { at }: { at: AdjustStanding } = $props();

  let width = $state(600);
  const height = 180;
  const [left, right, top, bottom] = [14, 14, 12, 22];
  const found = $derived(at.null);
  const placed = $derived(at.readings.filter((r) => !r.earlier && r.place !== ''));
  const top1 = $derived(Math.max(...placed.map((r) => Math.abs(r.si)), 1e-12) * 1.15);
  const x = $derived(scaleLinear([0, 1], [left, width - right]));
  const y = $derived(scaleLinear([0, top1], [height - bottom, top]));
  const path = $derived(
    (found?.curve ?? [])
      .map((v, i, all) => ({ px: x(i / (all.length - 1)), v }))
      .filter((p) => p.v <= top1)
      .map((p, i) => `${i === 0 ? 'M' : 'L'}${p.px.toFixed(1)} ${y(p.v).toFixed(1)}`)
      .join(''),
  );
</script>

{#if found && placed.length > 0}
  <figure bind:clientWidth={width}>
    <figcaption class="lead">What was read, from stop to stop of the control</figcaption>
    <svg
      {width}
      {height}
      class="bg-panel block rounded-md"
      role="img"
      aria-label="curve against the place of the control"
    >
      <line x1={left} x2={width - right} y1={height - bottom} y2={height - bottom} class="stroke-line" />
      {#if found.found === 'found'}
        <rect
          x={x(Math.max(0, found.at - 2 * found.give))}
          width={Math.max(3, x(4 * found.give) - x(0))}
          y={top}
          height={height - top - bottom}
          class="fill-ribbon"
        />
        <line x1={x(found.at)} x2={x(found.at)} y1={top} y2={height - bottom} class="stroke-expect" stroke-width="2" />
      {:else if found.found === 'searching'}
        <path d="M{x(found.next)} {height - bottom}l-7 10h14z" class="fill-measured" />
        <line
          x1={x(found.next)}
          x2={x(found.next)}
          y1={top}
          y2={height - bottom}
          class="stroke-measured"
          stroke-dasharray="3 5"
        />
      {/if}
      <path d={path} fill="none" class="stroke-expect" stroke-width="2" />
      {#each placed as r (r.id)}
        <circle cx={x(r.share)} cy={y(Math.abs(r.si))} r="5" class="fill-measured" />
      {/each}
      <text x={left} y={height - 6} class="fill-soft text-[11px]">first stop</text>
      <text x={width - right} y={height - 6} text-anchor="end" class="fill-soft text-[11px]">last stop</text>
    </svg>
  </figure>
{/if}

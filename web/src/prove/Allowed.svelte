<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { ClosingStanding } from '../api/types.gen';

  /** What is allowed as a ribbon, with what was before as a stroke and what is now as a dot. What lies far beyond stands at the end. */
  let { a }: { a: ClosingStanding } = $props();

  const width = 100;
  const height = 18;
  const low = $derived(a.low ?? (a.unit === 'dB' ? (a.high ?? 0) - 60 : Math.min(0, a.high ?? 0)));
  const high = $derived(a.high ?? (a.unit === 'dB' ? low + 60 : 2.5 * low));
  const x = $derived.by(() => {
    const spare = (high - low) * 0.5;
    return scaleLinear(
      [a.low === null ? low : low - spare, a.high === null ? high : high + spare],
      [3, width - 3],
    ).clamp(true);
  });
  const off = $derived(a.state === 'off');
</script>

<svg {width} {height} class="block" role="img" aria-label={a.bounds}>
  <line x1="0" x2={width} y1={height / 2} y2={height / 2} class="stroke-line" />
  <rect x={x(low)} y="3" width={Math.max(2, x(high) - x(low))} height={height - 6} class="fill-ribbon" />
  {#if a.before && a.before.value !== a.before.text.toLowerCase()}
    <path d="M{x(a.before.si)} 1v{height - 2}" class="stroke-soft" stroke-width="2" stroke-dasharray="3 2" />
  {/if}
  {#if a.after}
    <circle cx={x(a.after.si)} cy={height / 2} r="5" class={off ? 'fill-fault' : 'fill-measured'} />
  {/if}
</svg>

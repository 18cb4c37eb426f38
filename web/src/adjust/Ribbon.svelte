<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { AdjustStanding } from '../api/types.gen';
  import { valued } from '../shared/format';

  /** What is allowed as a ribbon, with what was read before, what is read now and what the other channel shows. */
  let { at, now }: { at: AdjustStanding; now: number | null } = $props();

  let width = $state(600);
  const height = 74;
  const [low, high] = $derived(at.ribbon as [number, number]);
  const shown = $derived([at.before?.si, at.after?.si, now ?? undefined].filter((x): x is number => x !== undefined));
  const x = $derived.by(() => {
    const from = Math.min(low - (high - low), ...shown);
    const to = Math.max(high + (high - low), ...shown);
    const spare = (to - from) * 0.08;
    return scaleLinear([from - spare, to + spare], [8, width - 8]);
  });
  const off = $derived(now !== null && (now < low || now > high));
</script>

<div bind:clientWidth={width}>
  <svg {width} {height} class="block" role="img" aria-label="allowed {valued(low, at.unit)} to {valued(high, at.unit)}">
    <line x1="8" x2={width - 8} y1="42" y2="42" class="stroke-line" />
    <rect x={x(low)} y="28" width={Math.max(2, x(high) - x(low))} height="28" class="fill-ribbon" />
    <text x={x(low)} y="70" text-anchor="end" dx="-4" class="figure fill-soft text-[12px]">{valued(low, at.unit)}</text>
    <text x={x(high)} y="70" dx="4" class="figure fill-soft text-[12px]">{valued(high, at.unit)}</text>
    {#if at.before}
      <path d="M{x(at.before.si)} 26v32" class="stroke-soft" stroke-width="2" stroke-dasharray="3 3" />
      <text x={x(at.before.si)} y="18" text-anchor="middle" class="fill-soft text-[12px]">before</text>
    {/if}
    {#if now !== null}
      <path d="M{x(now)} 22v40" class={off ? 'stroke-fault' : 'stroke-measured'} stroke-width="4" />
      <circle cx={x(now)} cy="42" r="7" class={off ? 'fill-fault' : 'fill-measured'} />
    {/if}
  </svg>
</div>

<script lang="ts">
  import type { Strip } from '../api/types.gen';
  import { engineering } from '../shared/format';
  import { left, trace, type Span } from './plot';

  /** A stretch of a waveform, drawn over what is due; or what is left of it. */
  interface Props {
    strip: Strip;
    unit: string;
    label: string;
    height: number;
    /** The time shown; the whole strip where left out. */
    span?: Span;
    /** By how many seconds the strip's times are moved. */
    shift?: number;
    what?: 'trace' | 'left';
  }
  let { strip, unit, label, height, span, shift = 0, what = 'trace' }: Props = $props();

  const width = 1000;
  const shown = $derived(span ?? { from: strip.from, to: strip.to });
  const drawn = $derived(what === 'trace' ? trace(strip, shown, { width, height }, shift) : null);
  const rest = $derived(what === 'left' ? left(strip, shown, { width, height }, shift) : null);
  const levels = $derived(drawn?.levels ?? rest?.levels ?? []);
  const say = (v: number) => (unit === 'FS' ? String(Number(v.toPrecision(3))) : engineering(v, unit));
</script>

<div class="relative" style:height="{height}px">
  <svg
    viewBox="0 0 {width} {height}"
    class="absolute inset-0 h-full w-full"
    preserveAspectRatio="none"
    role="img"
    aria-label={label}
  >
    {#if drawn}
      {#if drawn.due}
        <path
          d={drawn.due}
          class="fill-ribbon stroke-expect"
          stroke-width="3"
          stroke-opacity="0.4"
          stroke-linejoin="round"
          vector-effect="non-scaling-stroke"
        />
      {/if}
      <path
        d={drawn.got}
        class="stroke-measured fill-measured"
        stroke-width="2"
        vector-effect="non-scaling-stroke"
        stroke-linejoin="round"
      />
    {:else if rest}
      <rect x="0" {width} y={rest.allowed.y} height={rest.allowed.height} class="fill-ribbon" />
      <path
        d={rest.got}
        class="stroke-fault fill-fault"
        stroke-width="1.5"
        vector-effect="non-scaling-stroke"
        stroke-linejoin="round"
      />
    {/if}
  </svg>
  {#each drawn?.dots ?? [] as dot, i (i)}
    {#if dot.x >= 0 && dot.x <= width}<span
        class="bg-measured pointer-events-none absolute h-[5px] w-[5px] -translate-x-1/2 -translate-y-1/2 rounded-full"
        style:left="{dot.x / 10}%"
        style:top="{dot.y}px"
        data-test="sample"
      ></span>{/if}
  {/each}
  {#each levels as level (level.y)}
    <span
      class="figure text-small text-soft bg-panel/70 pointer-events-none absolute left-0 -translate-y-1/2 rounded-sm px-0.5"
      style:top="{level.y}px">{say(level.value)}</span
    >
  {/each}
</div>

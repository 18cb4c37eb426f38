<script lang="ts">
  import type { Spectrum } from '../api/types.gen';
  import { engineering } from '../shared/format';
  import { lines } from './plot';

  interface Props {
    spectrum: Spectrum;
    unit: string;
    height: number;
    /** Decibels that are shown at least, from the highest down. */
    depth?: number;
    label?: string;
  }
  let { spectrum, unit, height, depth = 40, label = 'Spectrum' }: Props = $props();

  const width = 1000;
  const drawn = $derived(lines(spectrum, { width, height }, depth));
</script>

<div class="relative" style:height="{height + 20}px">
  <svg
    viewBox="0 0 {width} {height}"
    class="absolute inset-x-0 top-0 w-full"
    style:height="{height}px"
    preserveAspectRatio="none"
    role="img"
    aria-label={label}
  >
    <path d={drawn.body} class="fill-measured" opacity="0.16" />
    <path
      d={drawn.edge}
      fill="none"
      class="stroke-measured"
      stroke-width="1.5"
      vector-effect="non-scaling-stroke"
      stroke-linejoin="round"
    />
  </svg>
  {#each drawn.levels as level (level.value)}
    <span
      class="figure text-small text-soft bg-panel/70 pointer-events-none absolute left-0 -translate-y-1/2 rounded-sm px-0.5"
      style:top="{level.y}px">{String(level.value).replace('-', '−')} dB{unit === 'FS' ? ' FS' : unit}</span
    >
  {/each}
  {#each drawn.places as place (place.value)}
    <span
      class={[
        'figure text-small text-soft absolute whitespace-nowrap',
        place.x > 940 ? '-translate-x-full' : place.x < 40 ? '' : '-translate-x-1/2',
      ]}
      style:left="{place.x / 10}%"
      style:top="{height + 2}px">{engineering(place.value, 'Hz')}</span
    >
  {/each}
</div>

<script lang="ts">
  import type { StageWave } from '../api/types.gen';
  import { engineering } from '../shared/format';

  /** The signal at the stage's exit in time, as it should be and as the leading fault would make it. */
  let { wave }: { wave: StageWave } = $props();

  let width = $state(700);
  const height = 118;
  const all = $derived([...wave.healthy, ...wave.faulty]);
  const low = $derived(Math.min(...all));
  const high = $derived(Math.max(...all));
  const path = (samples: number[]) =>
    samples
      .map((v, i) => {
        const x = (i / (samples.length - 1)) * (width - 8) + 4;
        const y = 6 + ((high - v) / (high - low || 1)) * (height - 12);
        return `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`;
      })
      .join('');
  const swing = (samples: number[]) => engineering(Math.max(...samples) - Math.min(...samples), 'Vpp');
</script>

<figure class="mt-1" bind:clientWidth={width}>
  <figcaption class="text-small flex flex-wrap gap-x-4">
    <span class="lead"
      >{wave.node} in time{wave.drive > 0
        ? `, ${engineering(wave.drive, 'V')} at ${engineering(wave.hz, 'Hz')} in`
        : ''}</span
    >
    <span class="text-expect font-semibold">as it should be <span class="figure">{swing(wave.healthy)}</span></span>
    {#if wave.faulty.length > 0}
      <span class="text-fault font-semibold"
        >– – with {wave.fault} <span class="figure">{swing(wave.faulty)}</span></span
      >
    {/if}
  </figcaption>
  <svg {width} {height} class="bg-panel block rounded-md" role="img" aria-label="Computed signal at {wave.node}">
    <path d={path(wave.healthy)} class="stroke-expect fill-none" stroke-width="2" />
    {#if wave.faulty.length > 0}
      <path d={path(wave.faulty)} class="stroke-fault fill-none" stroke-width="2" stroke-dasharray="6 4" />
    {/if}
  </svg>
</figure>

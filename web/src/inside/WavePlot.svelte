<script lang="ts">
  import type { StageWave } from '../api/types.gen';
  import { engineering } from '../shared/format';

  /** The signal at the stage's exit in time, as it should be and as the leading fault would make it. */
  let { wave }: { wave: StageWave } = $props();

  let width = $state(700);
  const height = 118;
  // A signal is drawn about its own mean, since a scope may have left the DC out; a rail as it stands.
  const level = (samples: number[]) => (wave.drive > 0 ? about(samples) : samples);
  function about(samples: number[]) {
    const mean = samples.reduce((sum, x) => sum + x, 0) / (samples.length || 1);
    return samples.map((v) => v - mean);
  }
  const healthy = $derived(level(wave.healthy));
  const faulty = $derived(level(wave.faulty));
  const measured = $derived(level(wave.measured));
  const all = $derived([...healthy, ...faulty, ...measured]);
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
    {#if wave.measured.length > 0}
      <span class="text-measured font-semibold"
        >measured <span class="figure">{swing(wave.measured)}</span>, as captured last</span
      >
    {/if}
    {#if wave.due > 0}<span class="text-soft">manual <span class="figure">{engineering(wave.due, 'Vrms')}</span></span
      >{/if}
  </figcaption>
  <svg {width} {height} class="bg-panel block rounded-md" role="img" aria-label="Computed signal at {wave.node}">
    <path d={path(healthy)} class="stroke-expect fill-none" stroke-width="2" />
    {#if wave.faulty.length > 0}
      <path d={path(faulty)} class="stroke-fault fill-none" stroke-width="2" stroke-dasharray="6 4" />
    {/if}
    {#if wave.measured.length > 0}
      <path d={path(measured)} class="stroke-measured fill-none" stroke-width="2.5" />
    {/if}
  </svg>
</figure>

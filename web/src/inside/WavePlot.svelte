<script lang="ts">
  import type { StageWave } from '../api/types.gen';
  import { engineering } from '../shared/format';

  /** The signal at the stage's exit in time, as it should be and as the leading fault would make it. */
  let { wave }: { wave: StageWave } = $props();

  let width = $state(700);
  const height = 138;
  const [left, right, top, bottom] = [54, 8, 6, 20];
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
  const x = (share: number) => left + share * (width - left - right);
  const y = (v: number) => top + ((high - v) / (high - low || 1)) * (height - top - bottom);
  const path = (samples: number[]) =>
    samples
      .map((v, i) => `${i === 0 ? 'M' : 'L'}${x(i / (samples.length - 1)).toFixed(1)} ${y(v).toFixed(1)}`)
      .join('');
  /** Round steps from one value to another, about so many. */
  function ticks(from: number, to: number, about: number): number[] {
    const span = to - from;
    if (!(span > 0)) return [];
    const power = 10 ** Math.floor(Math.log10(span / about));
    const step = power * ([1, 2, 5, 10].find((m) => span / (m * power) <= about) ?? 10);
    const out: number[] = [];
    for (let v = Math.ceil(from / step - 1e-9) * step; v <= to + step * 1e-9; v += step)
      out.push(Math.abs(v) < step / 1e6 ? 0 : v);
    return out;
  }
  const volts = $derived(ticks(low, high, 4));
  const span = $derived(wave.interval * (wave.healthy.length - 1));
  const seconds = $derived(ticks(0, span, width < 500 ? 4 : 8));
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
    {#each volts as v (v)}
      <line x1={left} x2={width - right} y1={y(v)} y2={y(v)} class={v === 0 ? 'stroke-line' : 'stroke-rule'} />
      <text x={left - 5} y={y(v) + 4} text-anchor="end" class="figure fill-soft text-[11px]"
        >{v === 0 ? '0' : engineering(v, 'V')}</text
      >
    {/each}
    {#each seconds as s (s)}
      <line x1={x(s / span)} x2={x(s / span)} y1={top} y2={height - bottom} class="stroke-rule" />
      <text
        x={x(s / span)}
        y={height - 5}
        text-anchor={s === 0 ? 'start' : s > span * 0.97 ? 'end' : 'middle'}
        class="figure fill-soft text-[11px]">{s === 0 ? '0' : engineering(s, 's')}</text
      >
    {/each}
    <path d={path(healthy)} class="stroke-expect fill-none" stroke-width="2" />
    {#if wave.faulty.length > 0}
      <path d={path(faulty)} class="stroke-fault fill-none" stroke-width="2" stroke-dasharray="6 4" />
    {/if}
    {#if wave.measured.length > 0}
      <path d={path(measured)} class="stroke-measured fill-none" stroke-width="2.5" />
    {/if}
  </svg>
</figure>

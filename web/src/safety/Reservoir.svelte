<script lang="ts">
  import { Input } from 'flowbite-svelte';
  import type { ReservoirView } from '../api/types.gen';
  import { engineering } from '../shared/format';

  /** A reservoir: the sums of its discharge, and what is left on it. */
  interface Props {
    reservoir: ReservoirView;
    /** The resistor at hand, as typed. */
    through: string;
    text: string;
    onmeasured: (text: string) => void;
  }
  let { reservoir: r, through, text = $bindable(), onmeasured }: Props = $props();

  const time = (seconds: number) => (seconds > 0 ? engineering(seconds, 's') : '');
  const resistor = $derived.by(() => {
    const d = r.discharge;
    if (d.ohms === 0) return 'below that already';
    const bears =
      d.ratedWatts > 0 ? `${engineering(d.ratedWatts, 'W')} or more` : 'no usual rating bears it: take longer';
    return `${engineering(d.ohms, 'Ω')}, ${bears}`;
  });
</script>

<div class="border-line bg-panel focus-within:border-ink rounded-md border-2 px-3 py-2">
  <div class="flex flex-wrap items-baseline gap-x-3">
    <b class="text-name">{r.name}</b>
    <span class="figure">{r.farads}, {r.volts}</span>
    <span class="text-soft">{r.rail}</span>
    <span class="figure ml-auto">{engineering(r.discharge.joules, 'J')}</span>
  </div>
  <dl class="mt-1 grid grid-cols-[max-content_1fr] gap-x-3">
    <dt class="text-soft">Discharge through</dt>
    <dd><b class="figure">{resistor}</b></dd>
    {#if r.discharge.ohms > 0}
      <dt class="text-soft">That takes</dt>
      <dd>
        <span class="figure">{time(r.discharge.seconds)}</span>, {engineering(r.discharge.peakWatts, 'W')} at first
      </dd>
    {/if}
    <dt class="text-soft">By itself</dt>
    <dd>
      {#if r.bleeder}<span class="figure">{time(r.discharge.bleederSeconds)}</span> through its bleeder of {r.bleeder}{:else}never
        counted on: no bleeder on the sheet{/if}
    </dd>
    {#if r.discharge.throughSeconds > 0}
      <dt class="text-soft">Through {through}</dt>
      <dd class="figure">{time(r.discharge.throughSeconds)}</dd>
    {/if}
  </dl>
  <form
    class="mt-1.5 flex flex-wrap items-center gap-3"
    onsubmit={(e) => {
      e.preventDefault();
      onmeasured(text);
    }}
  >
    <label class="flex items-center gap-2 whitespace-nowrap"
      ><b class="text-weight" data-test="residual-of">{r.name}</b> left on it
      <Input
        class="figure w-28"
        data-residual={r.name}
        placeholder="V"
        bind:value={text}
        onkeydown={(e: KeyboardEvent) => {
          if (e.key === 'Escape') (e.currentTarget as HTMLInputElement).blur();
        }}
      /></label
    >
    {#if r.measured}
      <span class={r.safe ? 'text-expect font-semibold' : 'text-fault font-bold'}
        >{r.safe ? '✓' : '▲'} {r.measured} measured</span
      >
    {:else}
      <span class="text-soft">not measured since it was switched off</span>
    {/if}
  </form>
</div>

<script module lang="ts">
  /** Which of the bench's dialogs are open. */
  export const closedAll = {
    injecting: false,
    finishing: false,
    choosing: false, // a way of working
    swapping: false,
    provoking: false,
    repairing: false,
    mapping: false,
    aiming: false, // at something by its name
    waving: false, // a captured waveform
    listing: false, // the instruments
    sounding: false, // the computer's sound
    growing: false, // a change of the sheet
    charting: false, // a voltage chart from the manual
    noticing: false, // what the set shows by itself
  };
  export type Opened = typeof closedAll;
</script>

<script lang="ts">
  import RepairDialog from '../shared/RepairDialog.svelte';
  import SwapDialog from '../shared/SwapDialog.svelte';
  import AimDialog from './AimDialog.svelte';
  import type { Bench } from './bench.svelte';
  import ProvokeDialog from './ProvokeDialog.svelte';
  import WaysDialog from './WaysDialog.svelte';

  /** The bench's dialogs that need more than a line or two; the large ones are fetched when they are first opened. */
  interface Props {
    bench: Bench;
    on: Opened;
    /** A file that was dropped or recorded, and its factor to volts. */
    dropped: File | null;
    factor: string;
    provoked: { place: string; act: string };
    onwave: (file: File, factor: string) => void;
    ontaken: () => void;
  }
  let { bench, on = $bindable(), dropped, factor, provoked, onwave, ontaken }: Props = $props();
</script>

<SwapDialog
  stages={(bench.findings?.stages ?? []).map((s) => s.name)}
  bind:open={on.swapping}
  action="Read with it"
  onchosen={(stages) => bench.lift(stages)}
/>
<WaysDialog {bench} bind:open={on.choosing} />
{#if on.growing}
  {#await import('./GrowDialog.svelte') then { default: GrowDialog }}
    <GrowDialog {bench} bind:open={on.growing} onchart={() => (on.charting = true)} />
  {/await}
{/if}
{#if on.charting}
  {#await import('./ChartDialog.svelte') then { default: ChartDialog }}
    <ChartDialog {bench} bind:open={on.charting} />
  {/await}
{/if}
{#if on.noticing}
  {#await import('../symptom/SymptomDialog.svelte') then { default: SymptomDialog }}
    <SymptomDialog number={bench.number} bind:open={on.noticing} onnoted={() => void bench.load()} />
  {/await}
{/if}
{#if on.aiming}<AimDialog {bench} bind:open={on.aiming} />{/if}
{#if on.waving}
  {#await import('./WaveDialog.svelte') then { default: WaveDialog }}
    <WaveDialog {bench} bind:open={on.waving} {dropped} said={factor} {ontaken} />
  {/await}
{/if}
{#if on.mapping}
  {#await import('./MapDialog.svelte') then { default: MapDialog }}
    <MapDialog {bench} bind:open={on.mapping} />
  {/await}
{/if}
{#if on.sounding}
  {#await import('../sound/SoundDialog.svelte') then { default: SoundDialog }}
    <SoundDialog {bench} bind:open={on.sounding} onrecorded={onwave} />
  {/await}
{/if}
{#if on.listing}
  {#await import('./InstrumentsDialog.svelte') then { default: InstrumentsDialog }}
    <InstrumentsDialog {bench} bind:open={on.listing} />
  {/await}
{/if}
<ProvokeDialog {bench} bind:open={on.provoking} at={provoked} />
<RepairDialog number={bench.number} bind:open={on.repairing} onnoted={(v) => bench.noted(v)} />

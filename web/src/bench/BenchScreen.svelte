<script lang="ts">
  import { Button, Select } from 'flowbite-svelte';
  import type { Ground, Judged, LineFinding } from '../api/types.gen';
  import JobFrame from '../shared/JobFrame.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import RepairDialog from '../shared/RepairDialog.svelte';
  import SwapDialog from '../shared/SwapDialog.svelte';
  import Dialogs from './Dialogs.svelte';
  import NextProbe from './NextProbe.svelte';
  import ProvokeDialog from './ProvokeDialog.svelte';
  import ReadingPanel from './ReadingPanel.svelte';
  import StepChart from './StepChart.svelte';
  import Suspects from './Suspects.svelte';
  import SupplyStrip from './SupplyStrip.svelte';
  import { Bench, touches } from './bench.svelte';
  import AimDialog from './AimDialog.svelte';
  import WaysDialog from './WaysDialog.svelte';
  import { typeFirst } from '../shared/keys.svelte';

  let { params }: { params: { number: string } } = $props();

  const bench = $derived(new Bench(Number(params.number)));
  let field: HTMLInputElement | undefined = $state();
  let width = $state(1280);
  let injecting = $state(false);
  let finishing = $state(false);
  let choosing = $state(false); // a way of working
  let swapping = $state(false);
  let provoking = $state(false);
  let provoked = $state({ place: '', act: '' }); // what the dialog opens with
  let repairing = $state(false);
  let mapping = $state(false);
  let aiming = $state(false); // at something by its name
  let waving = $state(false); // a captured waveform
  let listing = $state(false); // the instruments
  let sounding = $state(false); // the computer's sound
  let factor = $state(''); // of what was recorded, to volts
  let dropped: File | null = $state.raw(null);
  let striking = $state.raw<Judged | null>(null);
  let waiving = $state.raw<Ground | null>(null);

  $effect(() => void bench.load());
  $effect(() => void bench.loadTools());

  const view = $derived(bench.view);

  function onkey(event: KeyboardEvent): boolean {
    if (!view) return false;
    const open = view.finished === null;
    if (open && bench.touching && bench.text === '' && touches.some((t) => t.key === event.key)) {
      void bench.touched(event.key);
      return true;
    }
    const typing = open ? typeFirst(event, field) : '';
    if (typing !== '') return typing === 'open';
    switch (event.key) {
      case 'ArrowLeft':
        bench.step(-1);
        break;
      case 'ArrowRight':
        bench.step(1);
        break;
      case 'Home':
        bench.step(-bench.points.length);
        break;
      case 'End':
        bench.step(bench.points.length);
        break;
      case 'n':
        bench.aimNext();
        break;
      case 'q':
        bench.turnQuantity();
        break;
      case 's':
        aimNextOf(bench.findings?.rails ?? []);
        break;
      case 'c':
        aimNextOf(bench.findings?.controls ?? []);
        break;
      case 'j':
        aiming = true;
        break;
      case 'k':
        bench.turnWorked();
        break;
      case 'v':
        dropped = null;
        factor = '';
        waving = open;
        break;
      case 't':
        if (open) void bench.takeIt();
        break;
      case 'e':
        if (open) void bench.feedIt();
        break;
      case 'b':
        if (open && bench.practice) void bench.hands();
        break;
      case 'y':
        sounding = open;
        break;
      case 'l':
        listing = open;
        break;
      case 'm':
        mapping = true;
        break;
      case 'p':
        provoke(bench.next?.quantity === 'provocation' ? bench.next.point : '', '');
        break;
      case 'a':
        repairing = open;
        break;
      case 'i':
        injecting = open;
        break;
      case 'h':
        choosing = open;
        break;
      case 'u':
        swapping = open;
        break;
      case 'f':
        finishing = open;
        break;
      case 'r':
        if (open) nextRoute();
        break;
      case 'x':
        if (open) striking = bench.log.find((j) => !j.reading.struck) ?? null;
        break;
      default:
        return false;
    }
    return true;
  }
  function aimNextOf(lines: LineFinding[]) {
    // The next one that was not read; with all read, the next one.
    const at = lines.findIndex((l) => l.name === bench.aim);
    const ahead = [...lines.slice(at + 1), ...lines.slice(0, Math.max(at, 0))];
    const unread = (l: LineFinding) => l.read === '' || (l.moves !== '' && l.moved === '');
    const line = ahead.find(unread) ?? ahead[0];
    if (!line) return;
    bench.aimFor(line.name);
    bench.worked = line.read !== '' && unread(line); // as it stands it was read
  }
  function provoke(place: string, act: string) {
    provoked = { place, act };
    provoking = view?.finished === null;
  }
  const touching = $derived(bench.next?.purpose === 'touch');
  function nextRoute() {
    const routes = view?.routes ?? [];
    const at = routes.findIndex((r) => r.key === view?.route);
    const route = routes[(at + 1) % routes.length];
    if (route) void bench.set({ route: route.key, at: '', level: '', frequency: '' });
  }
  const keys = [
    { keys: '0 to 9', does: 'type a reading at the aimed point' },
    { keys: 'w or /', does: 'type a word: ok, none, weak, partly, hum, noisy, crackle, distorted, cuts out' },
    { keys: '1 to 4', does: 'of a touch: loud, faint, nothing, only the contact crackles' },
    { keys: 'Enter', does: 'log what is typed; the aim moves to the next probe' },
    { keys: '← →', does: 'aim along the route; Home and End go to its ends' },
    { keys: 'n', does: 'aim at the proposed probe' },
    { keys: 's', does: 'aim at the next supply rail not read yet' },
    { keys: 'c', does: 'aim at the next control or ground not read yet' },
    { keys: 'j', does: 'aim at any point, rail, control or fuse by its name' },
    { keys: 'k', does: 'the aimed control is worked while it is read; again: as it stands' },
    { keys: 'q', does: 'what is read: signal, DC volts, frequency, ohms, current and more' },
    { keys: 'i', does: 'what is fed in' },
    { keys: 'h', does: 'the way of working, and what each costs' },
    { keys: 'u', does: 'read with a known good unit swapped in, or a jumper across' },
    { keys: 'p', does: 'something that makes the fault come or go: tap, flex, cool, heat, wiggle, work' },
    { keys: 'v', does: 'a captured waveform from a file (or drop it): its figures, one taken as the reading' },
    { keys: 't', does: 'take the aimed reading with an instrument (a foot switch that types t will do)' },
    { keys: 'e', does: 'set the generator to what is fed in' },
    { keys: 'b', does: 'the practice bench: the probe on the aim, the generator where it is fed in' },
    { keys: 'y, z', does: "the computer's own sound: feed in, listen; z mutes what is played" },
    { keys: 'l', does: 'the instruments, and what is wrong with the practice set' },
    { keys: 'a', does: 'what was done to the set: a repair, or something put in for a while' },
    { keys: 'm', does: 'the map of the whole set; a click there goes to another route' },
    { keys: 'r', does: 'the next route' },
    { keys: 'x', does: 'strike out the last reading' },
    { keys: 'f', does: 'finish the job' },
  ];
</script>

<svelte:window
  bind:innerWidth={width}
  onfocus={() => void bench.load()}
  ondragover={(e) => e.preventDefault()}
  ondrop={(e) => {
    e.preventDefault();
    const file = e.dataTransfer?.files[0];
    if (!file || view?.finished !== null) return;
    dropped = file;
    factor = '';
    waving = true;
  }}
/>

{#snippet routes()}
  {#if view && view.routes.length > 0}
    <label class="text-soft flex items-center gap-2 whitespace-nowrap">
      Route
      <Select
        placeholder=""
        class="w-auto max-w-64 font-semibold"
        value={view?.route}
        disabled={view?.finished !== null}
        onchange={(e) => bench.set({ route: e.currentTarget.value, at: '', level: '', frequency: '' })}
      >
        {#each view?.routes ?? [] as route (route.key)}
          <option value={route.key}>{route.name}</option>
        {/each}
      </Select>
    </label>
  {/if}
{/snippet}

{#if bench.missing}
  <Nowhere title="This job cannot be shown" text={bench.missing} />
{:else if view}
  <JobFrame head={view} here="Bench" {keys} {onkey} onpower={() => void bench.load()} actions={routes}>
    {#if bench.findings}
      <div class="grid min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_1fr]">
        <SupplyStrip {bench} oninject={() => (injecting = true)} />
        {#if bench.points.length > 0}
          <div class="border-line bg-panel border-y">
            <StepChart
              points={bench.findings.points}
              stages={bench.findings.stages}
              aim={bench.aimAt}
              next={touching
                ? bench.points.findIndex((p) => p.name === bench.next?.injected?.at)
                : (bench.next?.at ?? -1)}
              does={touching ? 'touch here' : 'probe here'}
              plot={width < 640 ? 150 : 246}
              onaim={(i) => bench.aimFor(bench.points[i]?.name ?? '')}
            />
          </div>
        {:else}
          <div class="border-line border-b"></div>
        {/if}
        <main
          class="grid min-h-0 lg:grid-cols-[minmax(0,1.3fr)_minmax(0,1.05fr)_minmax(0,1fr)] lg:grid-rows-[minmax(0,1fr)] lg:overflow-hidden"
        >
          <NextProbe
            {bench}
            onfinish={() => (finishing = true)}
            onways={() => (choosing = true)}
            onrepair={() => (repairing = true)}
            onprovoke={provoke}
            onwaive={(ground) => (waiving = ground)}
          />
          <ReadingPanel
            {bench}
            bind:field
            onstrike={(reading) => (striking = reading)}
            oninstruments={() => (listing = true)}
          />
          <Suspects
            {bench}
            onmap={() => (mapping = true)}
            onprovoke={provoke}
            onwaive={(ground) => (waiving = ground)}
          />
        </main>
      </div>
    {:else}
      <main class="p-[18px]">
        <h2 class="text-say font-semibold">The service sheet has nothing yet to trace this job by.</h2>
        <p class="mt-2">Add points and the stages between them, or its supplies.</p>
        <Button href="#/sheets/{view.sheetId}" class="mt-4 inline-block">Open the sheet</Button>
      </main>
    {/if}
  </JobFrame>
  <Dialogs {bench} bind:injecting bind:finishing bind:striking bind:waiving />
  <SwapDialog
    stages={(bench.findings?.stages ?? []).map((s) => s.name)}
    bind:open={swapping}
    action="Read with it"
    onchosen={(stages) => bench.lift(stages)}
  />
  <WaysDialog {bench} bind:open={choosing} />
  {#if aiming}<AimDialog {bench} bind:open={aiming} />{/if}
  {#if waving}
    {#await import('./WaveDialog.svelte') then { default: WaveDialog }}
      <WaveDialog {bench} bind:open={waving} {dropped} said={factor} ontaken={() => field?.focus()} />
    {/await}
  {/if}
  {#if mapping}
    {#await import('./MapDialog.svelte') then { default: MapDialog }}
      <MapDialog {bench} bind:open={mapping} />
    {/await}
  {/if}
  {#if sounding}
    {#await import('../sound/SoundDialog.svelte') then { default: SoundDialog }}
      <SoundDialog
        {bench}
        bind:open={sounding}
        onrecorded={(file, times) => {
          dropped = file;
          factor = times;
          waving = true;
        }}
      />
    {/await}
  {/if}
  {#if listing}
    {#await import('./InstrumentsDialog.svelte') then { default: InstrumentsDialog }}
      <InstrumentsDialog {bench} bind:open={listing} />
    {/await}
  {/if}
  <ProvokeDialog {bench} bind:open={provoking} at={provoked} />
  <RepairDialog number={bench.number} bind:open={repairing} onnoted={(v) => bench.noted(v)} />
{/if}

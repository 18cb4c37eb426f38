<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'bench',
    key: '5',
    name: 'Bench',
    order: 50,
    route: '/jobs/:number',
    of: 'readings',
  };
</script>

<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { push } from 'svelte-spa-router';
  import type { Ground, Judged } from '../api/types.gen';
  import JobFrame from '../shared/JobFrame.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Dialogs from './Dialogs.svelte';
  import Eyes from './Eyes.svelte';
  import NextProbe from './NextProbe.svelte';
  import ReadingPanel from './ReadingPanel.svelte';
  import Routes from './Routes.svelte';
  import StepChart from './StepChart.svelte';
  import Suspects from './Suspects.svelte';
  import SupplyStrip from './SupplyStrip.svelte';
  import { Bench, touches } from './bench.svelte';
  import { readingKeys } from './keys';
  import MoreDialogs, { closedAll, type Opened } from './MoreDialogs.svelte';
  import { declare, typing } from '../shared/commands';

  let { params }: { params: { number: string } } = $props();

  const bench = $derived(new Bench(Number(params.number)));
  let field: HTMLInputElement | undefined = $state();
  let width = $state(1280);
  // Dialogs, and what some open with.
  let on = $state<Opened>({ ...closedAll });
  let dropped: File | null = $state.raw(null);
  let factor = $state(''); // of what was recorded, to volts
  let provoked = $state({ place: '', act: '' });
  let striking = $state.raw<Judged | null>(null);
  let waiving = $state.raw<Ground | null>(null);

  $effect(() => void bench.load());
  $effect(() => void bench.loadTools());
  const view = $derived(bench.view);

  const open = () => view?.finished === null;
  /** Opens the changes of the sheet once the last reading is there, which decides what is offered. */
  async function grow() {
    await bench.settled;
    on.growing = true;
  }
  const commands = declare({
    touch: {
      keys: touches.map((t) => t.key),
      shown: '1 to 4',
      title: 'of a touch: loud, faint, nothing, only the contact crackles',
      when: () => open() && bench.touching && bench.text === '',
      act: (key) => bench.touched(key),
    },
    ...typing(
      () => field,
      open,
      'type a reading at the aimed point',
      'type a word: ok, none, weak, partly, hum, noisy, crackle, distorted, cuts out; or what is seen: clipped on top at 8.2 V',
    ),
    log: { keys: ['Enter'], title: 'log what is typed; the aim moves to the next probe' },
    along: {
      keys: ['ArrowLeft', 'ArrowRight'],
      shown: '← →',
      title: 'aim along the route; Home and End go to its ends',
      act: (key) => bench.step(key === 'ArrowLeft' ? -1 : 1),
    },
    ends: {
      keys: ['Home', 'End'],
      title: '',
      act: (key) => bench.step(key === 'Home' ? -bench.points.length : bench.points.length),
    },
    ...readingKeys(() => bench, open),
    supply: {
      keys: ['s'],
      title: 'aim at the next supply rail not read yet',
      act: () => bench.aimNextOf(bench.findings?.rails ?? []),
    },
    control: {
      keys: ['c'],
      title: 'aim at the next control or ground not read yet',
      act: () => bench.aimNextOf(bench.findings?.controls ?? []),
    },
    aim: { keys: ['j'], title: 'aim at any point, rail, control or fuse by its name', act: () => (on.aiming = true) },
    inject: { keys: ['i'], title: 'what is fed in', when: open, act: () => (on.injecting = true) },
    way: { keys: ['h'], title: 'the way of working, and what each costs', when: open, act: () => (on.choosing = true) },
    swap: {
      keys: ['u'],
      title: 'read with a known good unit swapped in, or a jumper across',
      when: open,
      act: () => (on.swapping = true),
    },
    provoke: {
      keys: ['p'],
      title: 'something that makes the fault come or go: tap, flex, cool, heat, wiggle, work',
      act: () => provoke(bench.next?.quantity === 'provocation' ? bench.next.point : '', ''),
    },
    notice: {
      keys: ['S'],
      title: 'what the set shows by itself: on its screen, by its sound, by its lamps',
      act: () => (on.noticing = true),
    },
    wave: {
      keys: ['v'],
      title: 'a captured waveform from a file (or drop it): its figures, one taken as the reading',
      when: open,
      act: () => wave(null, ''),
    },
    sound: {
      keys: ['y'],
      shown: 'y, z',
      title: "the computer's own sound: feed in, listen; z mutes what is played",
      when: open,
      act: () => (on.sounding = true),
    },
    instruments: {
      keys: ['l'],
      title: 'the instruments, and what is wrong with the practice set',
      when: open,
      act: () => (on.listing = true),
    },
    repair: {
      keys: ['a'],
      title: 'what was done to the set: a repair, or something put in for a while',
      when: open,
      act: () => (on.repairing = true),
    },
    map: {
      keys: ['m'],
      title: 'the map of the whole set; a click there goes to another route',
      act: () => (on.mapping = true),
    },
    whole: {
      keys: ['P'],
      title: 'the pictures: where everything is, and how every place stands',
      act: () => void push(`/jobs/${bench.number}/pictures`),
    },
    route: { keys: ['r'], title: 'the next route', when: open, act: () => bench.nextRoute() },
    strike: {
      keys: ['x'],
      title: 'strike out the last reading',
      when: open,
      act: () => (striking = bench.log.find((j) => !j.reading.struck) ?? null),
    },
    grow: {
      keys: ['G'],
      title: 'change the sheet: name, divide, take out, add, what is due',
      when: open,
      act: grow,
    },
    back: {
      keys: ['z'],
      title: 'take the last change of the sheet back',
      when: open,
      act: () => void bench.takeBack(),
    },
    finish: { keys: ['f'], title: 'finish the job', when: open, act: () => (on.finishing = true) },
  });

  function wave(file: File | null, times: string) {
    dropped = file;
    factor = times;
    on.waving = true;
  }
  function provoke(place: string, act: string) {
    provoked = { place, act };
    on.provoking = view?.finished === null;
  }
  const touching = $derived(bench.next?.purpose === 'touch');
</script>

<svelte:window
  bind:innerWidth={width}
  onfocus={() => void bench.load()}
  ondragover={(e) => e.preventDefault()}
  ondrop={(e) => {
    e.preventDefault();
    const file = e.dataTransfer?.files[0];
    if (file && open()) wave(file, '');
  }}
/>

{#snippet routes()}<Routes {bench} />{/snippet}

{#if bench.missing}
  <Nowhere title="This job cannot be shown" text={bench.missing} />
{:else if view}
  <JobFrame head={view} here="Bench" {commands} again={() => void bench.load()} actions={routes}>
    {#if bench.findings}
      <div class="grid min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_1fr]">
        <SupplyStrip {bench} oninject={() => (on.injecting = true)} />
        {#if bench.points.length > 0}
          <div class="border-line bg-panel relative border-y">
            {#if width >= 640 && bench.face}
              <div
                class={[
                  'border-ink bg-ground absolute top-1 z-10 w-[420px] rounded-lg border-2 px-3 pb-2 shadow-lg',
                  2 * bench.aimAt < bench.points.length ? 'right-3' : 'left-3', // the aim stays in sight
                ]}
              >
                <Eyes {bench} />
              </div>
            {/if}
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
            onfinish={() => (on.finishing = true)}
            onways={() => (on.choosing = true)}
            onrepair={() => (on.repairing = true)}
            onprovoke={provoke}
            onwaive={(ground) => (waiving = ground)}
          />
          <ReadingPanel
            {bench}
            bind:field
            onstrike={(reading) => (striking = reading)}
            faced={width < 640}
            oninstruments={() => (on.listing = true)}
            onnotice={() => (on.noticing = true)}
          />
          <Suspects
            {bench}
            onmap={() => (on.mapping = true)}
            ongrow={grow}
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
  <Dialogs {bench} bind:injecting={on.injecting} bind:finishing={on.finishing} bind:striking bind:waiving />
  <MoreDialogs {bench} bind:on {dropped} {factor} {provoked} onwave={wave} ontaken={() => field?.focus()} />
{/if}

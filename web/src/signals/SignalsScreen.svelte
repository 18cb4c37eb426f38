<script lang="ts">
  import { Button, Input, Kbd, Select } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import { link } from 'svelte-spa-router';
  import { api } from '../api/client';
  import { engineering, moment, when } from '../shared/format';
  import JobFrame from '../shared/JobFrame.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import { site } from '../shared/site.svelte';
  import Compared from './Compared.svelte';
  import Figures from './Figures.svelte';
  import { times } from './plot';
  import { Signals, mostStacked, type Look } from './signals.svelte';
  import SpectrumPlot from './SpectrumPlot.svelte';
  import Trace from './Trace.svelte';

  let { params }: { params: { number: string; capture?: string } } = $props();

  const signals = $derived(new Signals(Number(params.number)));
  let below: 'left' | 'spectrum' = $state('left');
  let describing = $state(false);
  let striking = $state.raw<Look | null>(null);
  let width = $state(700); // of the drawing, pixels

  $effect(() => void signals.load(params.capture));

  const view = $derived(signals.view);
  const look = $derived(signals.look);
  const now = $derived(signals.now);
  const stacked = $derived(signals.looks.length > 1);
  const ruler = $derived(times(signals.span, 1000));

  let tall = $state(800); // the window
  // What the frame, the ruler and the lines of words leave; a phone scrolls.
  const room = $derived(Math.max(tall - 250 - (signals.between.length > 0 ? 76 : 0), 320));
  const plotHeight = $derived(stacked ? Math.floor((room + 30) / signals.looks.length) - 26 : Math.floor(0.68 * room));

  /** The time under a place of the drawing. */
  function timeAt(event: MouseEvent): number {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const { from, to } = signals.span;
    return from + ((event.clientX - box.left) / box.width) * (to - from);
  }
  let dragged: { x: number; from: number; to: number; far: boolean } | null = null;
  function ondown(event: PointerEvent) {
    dragged = { x: event.clientX, ...signals.span, far: false };
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  }
  function onmove(event: PointerEvent) {
    if (!dragged) return;
    const by = ((dragged.x - event.clientX) / width) * (dragged.to - dragged.from);
    if (Math.abs(event.clientX - dragged.x) > 4) dragged.far = true;
    if (dragged.far) signals.move({ from: dragged.from + by, to: dragged.to + by });
  }
  /** A click that did not move anything puts a cursor there: a first, then b, in turns. */
  let turn: 'a' | 'b' = 'a';
  function onup(event: PointerEvent) {
    if (dragged && !dragged.far) {
      void signals.place(turn, timeAt(event));
      turn = turn === 'a' ? 'b' : 'a';
    }
    dragged = null;
  }
  function onwheel(event: WheelEvent) {
    event.preventDefault();
    signals.zoom(event.deltaY > 0 ? 1.25 : 0.8, timeAt(event));
  }
  const across = (t: number) => ((t - signals.span.from) / (signals.span.to - signals.span.from)) * 100;

  function put(which: 'a' | 'b') {
    const share = which === 'a' ? 0.25 : 0.75;
    const { from, to } = signals.span;
    void signals.place(which, from + share * (to - from));
    last = which;
  }
  let last: 'a' | 'b' = 'a'; // the cursor that was placed last, moved by keys
  function nudge(by: number) {
    const at = signals.cursors[last];
    if (at !== null) void signals.place(last, at + by * (signals.span.to - signals.span.from));
  }
  function pick(by: number, stack: boolean) {
    const all = signals.all;
    const at = all.findIndex((l) => l.key === look?.key);
    const next = all[Math.min(Math.max(at + by, 0), all.length - 1)];
    if (next) void signals.show(next.key, stack);
  }

  function onkey(event: KeyboardEvent): boolean {
    switch (event.key) {
      case 'ArrowLeft':
        signals.shift(-0.25);
        break;
      case 'ArrowRight':
        signals.shift(0.25);
        break;
      case '+':
      case '=':
        signals.zoom(0.5);
        break;
      case '-':
      case '−':
        signals.zoom(2);
        break;
      case 'Home':
        signals.move(signals.whole);
        break;
      case 'End':
        signals.few();
        break;
      case 'ArrowDown':
        pick(1, event.shiftKey);
        break;
      case 'ArrowUp':
        pick(-1, event.shiftKey);
        break;
      case 'a':
      case 'b':
        put(event.key);
        break;
      case ',':
        nudge(-0.005);
        break;
      case '.':
        nudge(0.005);
        break;
      case 's':
        below = below === 'left' ? 'spectrum' : 'left';
        break;
      case 'e':
        signals.cursors = { a: null, b: null };
        signals.between = [];
        break;
      default:
        return false;
    }
    return true;
  }
  const keys = [
    { keys: '↑ ↓', does: 'the capture before and after, in the order of the route; with Shift under the ones shown' },
    { keys: '← →', does: 'move in time' },
    { keys: '+ −', does: 'zoom; the wheel does so about the pointer' },
    { keys: 'Home, End', does: 'the whole of it; the first few periods' },
    { keys: 'a, b', does: 'put a cursor (a click does, in turns); , and . move it; e takes both away' },
    { keys: 's', does: 'what is left, or the spectrum, below' },
  ];

  let shape = $state('sine');
  let level = $state('');
  let frequency = $state('');
  const verdict = (l: Look) => {
    const seen = signals.seen[l.key];
    if (!seen?.comparison) return '';
    return seen.comparison.defects[0]?.kind ?? '✓';
  };
</script>

<svelte:window bind:innerHeight={tall} />

{#if signals.missing}
  <Nowhere title="These captures cannot be shown" text={signals.missing} />
{:else if view}
  <JobFrame head={view} here="Signals" {keys} {onkey} onpower={() => void signals.load()}>
    <main class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[236px_minmax(0,1fr)_352px] lg:overflow-hidden">
      <section class="border-line min-w-0 overflow-y-auto p-[12px_14px] max-lg:max-h-48 lg:border-r">
        <h2 class="lead">In the order of the route</h2>
        <ul class="mt-1" aria-label="Captures">
          {#each signals.all as l (l.key)}
            {@const on = signals.shown.includes(l.key)}
            <li
              class={[
                'border-rule grid grid-cols-[minmax(0,1fr)_auto] items-center border-t first:border-0',
                on && 'bg-chip',
              ]}
            >
              <button
                type="button"
                class={['min-w-0 border-l-4 px-2 py-1 text-left', on ? 'border-measured' : 'border-transparent']}
                aria-pressed={on}
                title={moment(l.capture.taken)}
                onclick={() => void signals.show(l.key, false)}
              >
                <b class="figure block truncate">{l.point || 'no point'}</b>
                <span class="text-small text-soft block truncate"
                  >{when(l.capture.taken)} {l.capture.good ? '★ good' : l.capture.channels[l.channel]?.name}</span
                >
              </button>
              <button
                type="button"
                class="text-soft px-2 py-2"
                aria-label="{on ? 'Take away' : 'Stack'} {l.point}"
                title={on ? 'take it away' : 'under the ones shown'}
                onclick={() => void signals.show(l.key, true)}>{on && stacked ? '−' : '+'}</button
              >
            </li>
          {:else}
            <li class="text-soft py-1">
              None kept yet. Drop a CSV or a WAV on the <a class="underline" use:link href="/jobs/{view.number}"
                >bench</a
              >, or take one from an instrument there.
            </li>
          {/each}
        </ul>
        {#if signals.all.length > 1}
          <p class="text-small text-soft mt-2">+ stacks up to {mostStacked}, point under point, at one time scale.</p>
        {/if}
      </section>

      <section class="border-line bg-panel min-w-0 p-[12px_14px] max-lg:border-t lg:overflow-y-auto lg:border-r">
        {#if look && now}
          <div
            bind:clientWidth={width}
            class="relative touch-none select-none"
            role="application"
            aria-label="Drawing: wheel zooms, dragging moves, a click puts a cursor"
            {onwheel}
            onpointerdown={ondown}
            onpointermove={onmove}
            onpointerup={onup}
            ondblclick={() => signals.move(signals.whole)}
          >
            {#each signals.looks as l (l.key)}
              {@const strip = signals.strips[l.key]}
              {@const seen = signals.seen[l.key]}
              {#if stacked}
                <button
                  type="button"
                  class={['flex w-full items-baseline gap-3 text-left', l.key === look.key ? '' : 'text-soft']}
                  onpointerdown={(e) => e.stopPropagation()}
                  onpointerup={(e) => e.stopPropagation()}
                  onclick={() => (signals.picked = l.key)}
                >
                  <b class="figure">{l.point || l.capture.name}</b>
                  <span class={['font-semibold', verdict(l) === '✓' ? 'text-expect' : 'text-fault']}>{verdict(l)}</span>
                </button>
              {/if}
              {#if strip && seen}
                <Trace
                  {strip}
                  unit={seen.unit}
                  label="{l.point || l.capture.name}, {seen.kind}"
                  height={plotHeight}
                  span={signals.span}
                  shift={-seen.rises}
                />
              {/if}
            {/each}
            {#if !stacked && below === 'left'}
              {@const strip = signals.strips[look.key]}
              <h3 class="lead mt-1">
                {strip && strip.leftLow.length > 0
                  ? 'What is left when the reference is taken away, and what its tolerance allows'
                  : now.few.leftLow.length > 0
                    ? 'Zoom in to see what is left when the reference is taken away'
                    : 'Nothing to take away from it'}
              </h3>
              {#if strip && strip.leftLow.length > 0}
                <Trace
                  {strip}
                  unit={now.unit}
                  label="What is left"
                  height={Math.floor(0.26 * room)}
                  span={signals.span}
                  shift={-now.rises}
                  what="left"
                />
              {/if}
            {/if}
            {#each ['a', 'b'] as const as which (which)}
              {@const at = signals.cursors[which]}
              {#if at !== null && at >= signals.span.from && at <= signals.span.to}
                <div
                  class="border-ink pointer-events-none absolute top-0 bottom-6 border-l border-dashed"
                  style:left="{across(at)}%"
                >
                  <b class="bg-ink text-panel absolute top-0 rounded-r-sm px-1.5">{which}</b>
                </div>
              {/if}
            {/each}
            <div class="border-line relative mt-1 h-6 border-t">
              {#each ruler as mark (mark.value)}
                <span
                  class={[
                    'figure text-small text-soft absolute whitespace-nowrap',
                    mark.x > 940 ? '-translate-x-full' : mark.x < 40 ? '' : '-translate-x-1/2',
                  ]}
                  style:left="{mark.x / 10}%">{engineering(mark.value, 's')}</span
                >
              {/each}
            </div>
          </div>
          <div class="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
            <button type="button" class="underline" onclick={() => signals.move(signals.whole)}>the whole of it</button>
            <button type="button" class="underline" onclick={() => signals.few()}>a few periods</button>
            <button type="button" class="underline" onclick={() => signals.zoom(0.5)}>closer</button>
            <button type="button" class="underline" onclick={() => signals.zoom(2)}>further off</button>
            {#if !stacked}
              <button type="button" class="underline" onclick={() => (below = below === 'left' ? 'spectrum' : 'left')}
                ><Kbd>s</Kbd> {below === 'left' ? 'the spectrum' : 'what is left'}</button
              >
            {/if}
          </div>
          {#if !stacked && below === 'spectrum'}
            <h3 class="lead mt-2">Spectrum, lines {engineering(now.spectrum.resolution, 'Hz')} apart are told apart</h3>
            <SpectrumPlot spectrum={now.spectrum} unit={now.unit} height={Math.floor(0.22 * room)} />
          {/if}
          {#if signals.between.length > 0}
            <h3 class="lead mt-2">At the cursors</h3>
            <dl class="grid grid-cols-2 gap-x-6 sm:grid-cols-4" data-test="cursors">
              {#each signals.between as figure (figure.key)}
                <div>
                  <dt class="text-small text-soft">{figure.name}</dt>
                  <dd class="figure font-semibold">{figure.text}</dd>
                </div>
              {/each}
            </dl>
          {/if}
        {/if}
        {#if signals.trouble}<p class="text-fault mt-2 font-semibold" role="alert">{signals.trouble}</p>{/if}
      </section>

      <section class="min-w-0 p-[12px_16px] lg:overflow-y-auto">
        {#if look && now}
          <h2 class="lead">{look.point || 'no point'}, {now.kind}</h2>
          <Compared comparison={now.comparison} against={now.against} at={look.point} />
          <label class="text-small text-soft mt-2 block"
            >Compare with
            <Select
              placeholder=""
              size="sm"
              class="mt-0.5"
              value={now.reference || 'none'}
              onchange={(e) => {
                if (e.currentTarget.value === 'describe') describing = true;
                else void signals.compare(e.currentTarget.value);
              }}
            >
              {#each now.references as reference (reference.key)}
                <option value={reference.key}>{reference.name}</option>
              {/each}
              <option value="none">nothing</option>
              <option value="describe">a shape, a level and a frequency …</option>
            </Select></label
          >
          {#if now.between.length > 0}
            <h3 class="lead mt-3">The second channel against the first</h3>
            <Figures list={now.between} label="Between the channels" at="" />
          {/if}
          <h3 class="lead mt-3">Figures</h3>
          <Figures list={now.list} label="Figures" at={look.point} />
          <ul class="text-small text-soft mt-2">
            <li>
              {look.capture.name}, taken {moment(look.capture.taken)}{look.capture.settings
                ? `; ${look.capture.settings}`
                : ''}.
            </li>
            {#each now.understood as sentence (sentence)}<li>{sentence}</li>{/each}
          </ul>
          <div class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1">
            <button type="button" class="underline" onclick={() => void signals.good(look)}
              >{look.capture.good ? 'no longer a good one' : 'a good one, to compare with'}</button
            >
            <a class="underline" href={api.captureFile(view.number, look.capture.id)} download>the file</a>
            {#if view.finished === null}
              <button type="button" class="underline" onclick={() => (striking = look)}>take it out</button>
            {/if}
          </div>
          <div class="text-small text-soft mt-2 flex items-end gap-3">
            <label
              >Mains
              <Select
                placeholder=""
                size="sm"
                class="mt-0.5 w-24"
                value={site.mains}
                onchange={(e) => {
                  site.set(e.currentTarget.value, site.pilot);
                  void signals.again();
                }}
              >
                <option value="50 Hz">50 Hz</option>
                <option value="60 Hz">60 Hz</option>
              </Select></label
            >
            <label
              >Pilot or key tone
              <Input
                size="sm"
                class="figure mt-0.5 w-28"
                value={site.pilot}
                placeholder="none"
                onchange={(e) => {
                  site.set(site.mains, e.currentTarget.value);
                  void signals.again();
                }}
              /></label
            >
          </div>
        {/if}
      </section>
    </main>
  </JobFrame>
  <Modal title="Compare with" bind:open={describing} size="sm">
    <form
      class="text-ink flex flex-col gap-3"
      onsubmit={(e) => {
        e.preventDefault();
        describing = false;
        void signals.describe(shape, level, frequency);
      }}
    >
      <label
        >Shape
        <Select placeholder="" class="mt-1" bind:value={shape}>
          <option value="sine">sine</option>
          <option value="square">square</option>
          <option value="triangle">triangle</option>
        </Select></label
      >
      <label>Level<Input class="figure mt-1" bind:value={level} placeholder="1.2 Vpp" required /></label>
      <label>Frequency<Input class="figure mt-1" bind:value={frequency} placeholder="1 kHz" required /></label>
      <div class="flex justify-end"><Button type="submit">Compare</Button></div>
    </form>
  </Modal>
  <Modal title="Take out a capture" open={striking !== null} size="sm" onclose={() => (striking = null)}>
    <form
      class="text-ink flex flex-col gap-3"
      onsubmit={(e) => {
        e.preventDefault();
        const l = striking;
        striking = null;
        if (l) void signals.strike(l);
      }}
    >
      <p>
        The capture at <b class="figure">{striking?.point || 'no point'}</b> is shown no more; its file stays in the record.
        A reading taken from it stays as well.
      </p>
      <div class="flex justify-end"><Button type="submit">Take it out</Button></div>
    </form>
  </Modal>
{/if}

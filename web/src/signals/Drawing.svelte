<script lang="ts">
  import { engineering } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import { times } from './plot';
  import type { Look, Signals } from './signals.svelte';
  import SpectrumPlot from './SpectrumPlot.svelte';
  import Trace from './Trace.svelte';

  /** What is looked at, drawn over one time, with cursors, and what is left or the spectrum below. */
  let { signals, below = $bindable() }: { signals: Signals; below: 'left' | 'spectrum' } = $props();

  let width = $state(700); // pixels
  const look = $derived(signals.look);
  const now = $derived(signals.now);
  const stacked = $derived(signals.looks.length > 1);
  const ruler = $derived(times(signals.span, width));

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

  const verdict = (l: Look) => {
    const seen = signals.seen[l.key];
    if (!seen?.comparison) return '';
    return seen.comparison.defects[0]?.kind ?? '✓';
  };
</script>

<svelte:window bind:innerHeight={tall} />

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
      {#if !stacked && below === 'left' && !now.response}
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
      {#if !stacked && !now.response}
        <button type="button" class="underline" onclick={() => (below = below === 'left' ? 'spectrum' : 'left')}
          ><Key of="below" /> {below === 'left' ? 'the spectrum' : 'what is left'}</button
        >
      {/if}
    </div>
    {#if !stacked && now.response}
      <h3 class="lead mt-2">Response, by the level on its way</h3>
      <SpectrumPlot
        spectrum={now.response}
        unit={now.unit}
        height={Math.floor(0.26 * room)}
        depth={12}
        label="Response"
      />
    {:else if !stacked && below === 'spectrum'}
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

<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'signals',
    key: '6',
    aside: true,
    name: 'Signals',
    order: 60,
    route: '/jobs/:number/signals/:capture?',
    of: 'captures',
  };
</script>

<script lang="ts">
  import { declare } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import About from './About.svelte';
  import CaptureList from './CaptureList.svelte';
  import Drawing from './Drawing.svelte';
  import { Signals } from './signals.svelte';

  let { params }: { params: { number: string; capture?: string } } = $props();

  const signals = $derived(new Signals(Number(params.number)));
  let below: 'left' | 'spectrum' = $state('left');

  $effect(() => void signals.load(params.capture));

  const view = $derived(signals.view);
  const look = $derived(signals.look);

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

  const commands = declare({
    pick: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'the capture before and after, in the order of the route; with Shift under the ones shown',
      act: (key, event) => pick(key === 'ArrowDown' ? 1 : -1, event.shiftKey),
    },
    shift: {
      keys: ['ArrowLeft', 'ArrowRight'],
      shown: '← →',
      title: 'move in time',
      act: (key) => signals.shift(key === 'ArrowLeft' ? -0.25 : 0.25),
    },
    zoom: {
      keys: ['+', '=', '-', '−'],
      shown: '+ −',
      title: 'zoom; the wheel does so about the pointer',
      act: (key) => signals.zoom(key === '+' || key === '=' ? 0.5 : 2),
    },
    whole: {
      keys: ['Home'],
      shown: 'Home, End',
      title: 'the whole of it; the first few periods',
      act: () => signals.move(signals.whole),
    },
    few: { keys: ['End'], title: '', act: () => signals.few() },
    put: {
      keys: ['a', 'b'],
      shown: 'a, b',
      title: 'put a cursor (a click does, in turns); , and . move it; e takes both away',
      act: (key) => put(key === 'a' ? 'a' : 'b'),
    },
    nudge: { keys: [',', '.'], title: '', act: (key) => nudge(key === ',' ? -0.005 : 0.005) },
    clear: { keys: ['e'], title: '', act: () => signals.clear() },
    below: {
      keys: ['s'],
      title: 'what is left, or the spectrum, below',
      act: () => (below = below === 'left' ? 'spectrum' : 'left'),
    },
  });
</script>

{#if signals.missing}
  <Nowhere title="These captures cannot be shown" text={signals.missing} />
{:else if view}
  <JobFrame head={view} here="Signals" {commands} again={() => void signals.load()}>
    <main class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[236px_minmax(0,1fr)_352px] lg:overflow-hidden">
      <CaptureList {signals} number={view.number} />
      <Drawing {signals} bind:below />
      <About {signals} {view} />
    </main>
  </JobFrame>
{/if}

<script lang="ts">
  import { Button, Select } from 'flowbite-svelte';
  import type { InsideView, StageView } from '../api/types.gen';
  import { engineering, percent, signed } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import Figure from './Figure.svelte';
  import type { Inside } from './inside.svelte';
  import WavePlot from './WavePlot.svelte';

  /** The stage as computed, with what was read of it: its gain, its figure, its signal, what it follows. */
  interface Props {
    inside: Inside;
    view: InsideView;
    looked: StageView;
    closed: boolean;
    onedit: () => void;
  }
  let { inside, view, looked, closed, onedit }: Props = $props();

  let tall = $state(800); // the window
  const hertz = (x: number | undefined) => (x === undefined || x === 0 ? '–' : engineering(x, 'Hz'));
</script>

<svelte:window bind:innerHeight={tall} />

<section class="border-line flex min-w-0 flex-col p-[10px_14px] lg:overflow-y-auto lg:border-r">
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
    <label class="flex items-center gap-2">
      <span class="lead">Inside</span>
      <Select
        placeholder=""
        class="w-60 py-1"
        aria-label="Stage"
        value={looked.stage}
        onchange={(e) => void inside.load((e.currentTarget as HTMLSelectElement).value)}
      >
        {#each view.stages as s (s.stage)}
          <option value={s.stage}
            >{s.stage}{s.belief > 0.005 ? `, ${percent(s.belief)} %` : ''}{s.circuit ? '' : ' (no circuit)'}</option
          >
        {/each}
      </Select>
    </label>
    <Button size="xs" color="alternative" disabled={closed} onclick={onedit}
      ><Key of="edit" />{looked.circuit ? 'Parts' : 'Put the circuit in'}</Button
    >
    {#if looked.gain}
      {@const g = looked.gain}
      <p aria-label="Gain">
        <span class="lead">Gain at {hertz(g.hz)}</span>
        {#if g.measured !== undefined}
          <b class={['text-name', g.off ? 'text-fault' : 'text-measured']}
            >{g.off ? (g.measured > g.computed ? '▴ ' : '▾ ') : ''}<span class="figure">{signed(g.measured)}</span> dB</b
          > read,
        {/if}
        <span class="text-expect"><span class="figure">{signed(g.computed)}</span> dB computed</span
        >{#if g.manual !== undefined}<span class="text-soft"
            >, <span class="figure">{signed(g.manual)}</span> dB by the manual</span
          >{/if}
        <span class="text-small text-soft"
          >{g.low > 0 || g.high > 0
            ? `−3 dB ${g.low > 0 ? `at ${hertz(g.low)}` : ''}${g.low > 0 && g.high > 0 ? ' and ' : ''}${g.high > 0 ? `at ${hertz(g.high)}` : ''}`
            : ''}</span
        >
      </p>
    {/if}
  </div>
  {#if looked.doubt}
    <p class="border-hazard bg-panel text-small mt-1 rounded-md border-l-4 px-2 py-1" role="status">
      <b>{looked.doubt.says}</b>
      {#each looked.doubt.asIf.slice(0, 3) as a (a.part)}
        It would fit if {a.part} were {a.value} ({a.was} here).
      {/each}
      {#if looked.doubt.asIf.length === 0 && looked.doubt.parts.length > 0}
        Compare {looked.doubt.parts.slice(0, 5).join(', ')} with the board.
      {/if}
    </p>
  {/if}
  {#each looked.problems as p, i (i)}
    <p class="text-fault font-semibold"><b>{p.where}:</b> {p.message}</p>
  {/each}
  {#if looked.circuit}
    <div class="mt-1"><Figure {inside} height={tall - (inside.wave ? 400 : 230)} /></div>
    <p class="text-small text-soft mt-1">
      On the left a true scale of volts: <span class="text-expect font-semibold">computed</span>,
      <span class="text-measured font-semibold">read</span>, hatched where they part. Below each part its current and
      how far it is suspect.
    </p>
    {#if inside.wave}<WavePlot wave={inside.wave} />{/if}
  {:else if looked.problems.length === 0}
    <p class="mt-6 max-w-prose">
      Put in its parts: begin from a family of circuits and change the values, or paste a table. Parts can be checked
      and provoked without one.
    </p>
  {/if}
  {#if looked.follows.length > 0}
    <h2 class="lead mt-3">What it follows</h2>
    <ul aria-label="Follows">
      {#each looked.follows.slice(0, 4) as f (f.place)}
        <li class="border-rule grid grid-cols-[52px_minmax(0,1fr)] border-t py-1 first:border-0">
          <span class="figure text-weight font-semibold">{percent(f.weight)}</span>
          <span><b>{f.place}</b>, {f.cause}: {f.says}</span>
        </li>
      {/each}
    </ul>
  {/if}
</section>

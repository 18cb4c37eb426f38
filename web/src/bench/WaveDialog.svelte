<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Modal } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import FileButton from '../shared/FileButton.svelte';
  import type { Figure, WaveView } from '../api/types.gen';
  import type { Bench } from './bench.svelte';

  /** A captured waveform: what was understood of the file, what was measured, and one figure taken as the reading. */
  interface Props {
    bench: Bench;
    open: boolean;
    /** A file that was dropped on the bench. */
    dropped?: File | null;
    ontaken: () => void;
  }
  let { bench, open = $bindable(), dropped = null, ontaken }: Props = $props();

  let file: File | null = $state.raw(null);
  let view: WaveView | null = $state.raw(null);
  let wrong = $state('');
  let busy = $state(false);
  let interval = $state('');
  let factor = $state('');
  let unit = $state('');
  let shown = $state(0); // which channel

  const channel = $derived.by(() => view?.channels[shown] ?? view?.channels[0]);

  /** What the sheet has at the aimed point, to compare with. */
  const due = $derived.by(() => {
    const point = bench.points[bench.aimAt];
    return point && point.hz > 0 && point.expected
      ? { level: point.expected, frequency: `${point.hz} Hz` }
      : { level: '', frequency: '' };
  });
  /** Types a word or a figure at the aimed point. */
  function say(text: string) {
    bench.type(text);
    open = false;
    ontaken();
  }

  // A file dropped on the bench is read at once; another one starts with nothing said of it.
  $effect(() => {
    const next = open ? dropped : null;
    if (next) untrack(() => take(next));
  });
  function take(next: File) {
    file = next;
    interval = factor = unit = '';
    shown = 0;
    void read();
  }
  async function read() {
    if (!file) return;
    const asked = file;
    busy = true;
    try {
      const answer = await api.wave(asked, { interval, factor, unit, level: due.level, frequency: due.frequency });
      if (asked === file) {
        view = answer;
        wrong = '';
      }
    } catch (error) {
      view = null;
      wrong = told(error);
    } finally {
      busy = false;
    }
  }

  const width = 720;
  const height = 150;
  let whole = $state(false); // all of it, instead of the first few periods
  const drawing = $derived.by(() => {
    if (!channel) return null;
    const piece = whole ? channel : channel.few;
    const due = whole ? [] : channel.due;
    const top = Math.max(...piece.high, ...due);
    const bottom = Math.min(...piece.low, ...due);
    const y = (v: number) => (4 + ((top - v) / (top - bottom || 1)) * (height - 8)).toFixed(1);
    const along = (list: number[]) =>
      list.map((v, i) => `${((i / Math.max(list.length - 1, 1)) * width).toFixed(1)} ${y(v)}`);
    return {
      ribbon: `M${along(piece.high).join('L')}L${along(piece.low).reverse().join('L')}Z`,
      due: due.length > 0 ? `M${along(due).join('L')}` : '',
    };
  });

  /** How sure a figure is, against itself. */
  function sure(f: Figure): string {
    if (f.sure <= 0 || f.value === 0) return '';
    const ppm = (f.sure / Math.abs(f.value)) * 1e6;
    if (ppm >= 1000) return `±${(ppm / 1e4).toPrecision(1)} %`;
    return `±${ppm >= 10 ? Math.round(ppm) : ppm.toPrecision(1)} ppm`;
  }
</script>

<Modal title="A captured waveform" bind:open size="lg">
  <form
    class="text-ink flex flex-col gap-3"
    onsubmit={(e) => {
      e.preventDefault();
      void read();
    }}
  >
    <div class="flex flex-wrap items-end gap-3">
      <FileButton accept=".csv,.txt,.tsv,.wav" onfile={take}>{file ? 'Another file' : 'Choose a file'}</FileButton>
      {#if file}
        <label class="text-small text-soft w-36"
          >Between samples<Input class="figure" size="sm" bind:value={interval} placeholder="as in the file" /></label
        >
        <label class="text-small text-soft w-44"
          >Probe not allowed for<Input class="figure" size="sm" bind:value={factor} placeholder="1" /></label
        >
        <label class="text-small text-soft w-28"
          >Unit<Input class="figure" size="sm" bind:value={unit} placeholder="as in the file" /></label
        >
        <Button color="alternative" type="submit" disabled={busy}>Read it so</Button>
      {/if}
    </div>
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    {#if !file}
      <p class="text-soft">
        A table as a scope, a logger or a spreadsheet writes it, or a WAV: choose it here, or drop it on the bench. What
        was understood of it is shown before anything is taken over.
      </p>
    {/if}
    {#if view && channel}
      <ul class="text-small text-soft" aria-label="Understood">
        {#each view.understood as sentence (sentence)}<li>{sentence}</li>{/each}
      </ul>
      {#if view.channels.length > 1}
        <div class="flex flex-wrap gap-1" role="tablist" aria-label="Channels">
          {#each view.channels as c, i (i)}
            <button
              type="button"
              role="tab"
              aria-selected={i === shown}
              class={[
                'border-b-3 px-3 py-1',
                i === shown ? 'border-measured font-semibold' : 'text-soft border-transparent',
              ]}
              onclick={() => (shown = i)}>{c.name}</button
            >
          {/each}
        </div>
      {/if}
      <svg
        viewBox="0 0 {width} {height}"
        class="border-line h-[150px] w-full border-y"
        preserveAspectRatio="none"
        role="img"
        aria-label="{channel.name}, {channel.kind}"
      >
        {#if drawing}
          {#if drawing.due}
            <path
              d={drawing.due}
              fill="none"
              class="stroke-expect"
              stroke-width="5"
              opacity="0.5"
              vector-effect="non-scaling-stroke"
            />
          {/if}
          <path
            d={drawing.ribbon}
            class="stroke-measured fill-measured"
            stroke-width="1.5"
            vector-effect="non-scaling-stroke"
            stroke-linejoin="round"
          />
        {/if}
      </svg>
      <div class="text-small text-soft flex justify-between">
        <span
          >{whole ? 'the whole of it' : 'the first few periods'}{channel.due.length > 0 && !whole
            ? '; what is due lies under it, broad and pale'
            : ''}</span
        >
        <button type="button" class="underline" onclick={() => (whole = !whole)}
          >{whole ? 'a few periods' : 'the whole of it'}</button
        >
      </div>
      {#if channel.comparison}
        {@const c = channel.comparison}
        <section aria-label="Compared">
          <h3 class="lead">Against {due.level} at {bench.aim}</h3>
          {#if c.defects.length === 0}
            <p class="text-expect font-semibold">✓ As it should be, {c.gainDB.toFixed(1).replace('-', '−')} dB.</p>
          {/if}
          {#each c.defects as defect (defect.kind)}
            <p class="border-fault mt-1 border-l-4 pl-3">
              <b class="text-fault">{defect.kind}</b>: {defect.evidence}.
              <span class="text-small text-soft block">Usual causes: {defect.causes}.</span>
              {#if defect.word && bench.aim !== '' && bench.view?.finished === null}
                <button type="button" class="text-measured underline" onclick={() => say(defect.word)}
                  >log “{defect.word}” at {bench.aim}</button
                >
              {/if}
            </p>
          {/each}
        </section>
      {/if}
      <table class="w-full" aria-label="Figures">
        <tbody>
          {#each channel.list as figure (figure.key)}
            <tr class="border-rule border-t align-baseline">
              <td class="py-0.5 pr-2">{figure.name}</td>
              <td class="figure pr-2 text-right font-semibold">{figure.text}</td>
              <td class="figure text-small text-soft pr-2">{sure(figure)}</td>
              <td class="text-small text-soft pr-2">{figure.how}</td>
              <td class="text-right">
                {#if figure.reading && bench.aim !== '' && bench.view?.finished === null}
                  <button type="button" class="text-measured underline" onclick={() => say(figure.reading)}
                    >read at {bench.aim}</button
                  >
                {/if}
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
  </form>
</Modal>

<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import { api, told, ofCaptured } from '../api/client';
  import { Entry } from '../shared/entry';
  import FileButton from '../shared/FileButton.svelte';
  import type { WaveView } from '../api/types.gen';
  import { link } from 'svelte-spa-router';
  import { site } from '../shared/site.svelte';
  import Compared from '../signals/Compared.svelte';
  import Figures from '../signals/Figures.svelte';
  import Trace from '../signals/Trace.svelte';
  import type { Bench } from './bench.svelte';

  /** A captured waveform: what was understood of the file, what was measured; it is kept, and a figure taken as the reading. */
  interface Props {
    bench: Bench;
    open: boolean;
    /** A file that was dropped on the bench. */
    dropped?: File | null;
    /** What brings it to volts, where that is known: a recording of a calibrated input. */
    said?: string;
    ontaken: () => void;
  }
  let { bench, open = $bindable(), dropped = null, said = '', ontaken }: Props = $props();

  let file: File | null = $state.raw(null);
  let view: WaveView | null = $state.raw(null);
  let wrong = $state('');
  let busy = $state(false);
  let interval = $state('');
  let factor = $state('');
  let unit = $state('');
  let decimal = $state(''); // mark; empty: as it was guessed
  let shown = $state(0); // which channel
  let entry = new Entry(); // the capture, anew for every file
  let kept = $state(''); // its id once it is kept
  let keptAt = $state(''); // and where
  let second = $state(''); // the point of the other channel of two

  const channel = $derived.by(() => view?.channels[shown] ?? view?.channels[0]);

  const logs = $derived(bench.aim !== '' && bench.view?.finished === null);
  /** The capture at a point: the channel that is shown was there. */
  function captured(at: string) {
    const c = described(at);
    return { ...c, said: { ...c.said, id: entry.idOf(c) } };
  }
  function described(at: string) {
    const count = Math.max(view?.channels.length ?? 0, shown + 1);
    return {
      points: Array.from({ length: count }, (_, i) => (i === shown ? at : i === other ? second : '')),
      said: { name: file?.name ?? '', interval, factor, unit, decimal, mains: site.mains, pilot: site.pilot },
      conditions: bench.conditions,
    };
  }
  /** Keeps the capture at the aimed point, once. */
  async function keep(): Promise<boolean> {
    if (!file || keptAt === bench.aim) return file !== null;
    busy = true;
    try {
      const at = bench.aim;
      const answer = await api.keepCapture(bench.number, file, ofCaptured(captured(at)));
      kept = answer.id;
      keptAt = at;
      return true;
    } catch (error) {
      wrong = told(error);
      return false;
    } finally {
      busy = false;
    }
  }
  /** Keeps it, and types a word or a figure of it at the aimed point. */
  async function say(text: string) {
    if (!(await keep())) return;
    bench.type(text, kept);
    open = false;
    ontaken();
  }

  // A file dropped on the bench is read at once; another one starts with nothing said of it.
  $effect(() => {
    const next = open ? dropped : null;
    if (next) untrack(() => take(next, said));
  });
  function take(next: File, times = '') {
    file = next;
    interval = '';
    decimal = '';
    factor = times;
    unit = times === '' ? '' : 'V';
    shown = 0;
    kept = keptAt = second = '';
    entry = new Entry();
    void read();
  }
  async function read() {
    if (!file) return;
    const asked = file;
    busy = true;
    try {
      const answer = await api.readCapture(bench.number, asked, ofCaptured(captured(bench.aim)));
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

  let whole = $state(false); // all of it, instead of the first few periods
  const other = $derived.by(() => (view?.channels.length === 2 ? 1 - shown : -1)); // of two channels
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
      <FileButton accept=".csv,.txt,.tsv,.wav" onfile={(next) => take(next)}
        >{file ? 'Another file' : 'Choose a file'}</FileButton
      >
      {#if file}
        <label class="text-small text-soft w-36"
          >Between samples<Input class="figure" size="sm" bind:value={interval} placeholder="as in file" /></label
        >
        <label class="text-small text-soft w-44"
          >Probe not allowed for<Input class="figure" size="sm" bind:value={factor} placeholder="1" /></label
        >
        <label class="text-small text-soft w-32"
          >Unit<Input class="figure" size="sm" bind:value={unit} placeholder="as in file" /></label
        >
        <label class="text-small text-soft w-32"
          >Decimal mark<Select placeholder="" size="sm" bind:value={decimal}>
            <option value="">as guessed</option>
            <option value=".">a point</option>
            <option value=",">a comma</option>
          </Select></label
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
              onclick={() => {
                shown = i;
                void read();
              }}>{c.name}</button
            >
          {/each}
        </div>
      {/if}
      <div class="border-line border-y">
        <Trace
          strip={whole ? channel.whole : channel.few}
          unit={channel.unit}
          label="{channel.name}, {channel.kind}"
          height={150}
        />
      </div>
      <div class="text-small text-soft flex justify-between">
        <span
          >{whole ? 'the whole of it' : 'the first few periods'}{channel.few.dueLow.length > 0 && !whole
            ? '; what is due lies under it, as wide as it may be off'
            : ''}</span
        >
        <button type="button" class="underline" onclick={() => (whole = !whole)}
          >{whole ? 'a few periods' : 'the whole of it'}</button
        >
      </div>
      {#if channel.comparison}
        <Compared
          comparison={channel.comparison}
          against={channel.against}
          at={bench.aim}
          onsay={logs ? (word) => void say(word) : undefined}
        />
      {/if}
      {#if logs}
        <div class="flex flex-wrap items-end gap-3">
          {#if other >= 0}
            <label class="text-small text-soft"
              >{view.channels[other]?.name} was at
              <Select placeholder="" size="sm" class="mt-0.5 w-44" bind:value={second}>
                <option value="">not said</option>
                {#each bench.points as point (point.name)}<option value={point.name}>{point.name}</option>{/each}
              </Select></label
            >
          {/if}
          <Button type="button" disabled={busy || kept !== ''} onclick={() => void keep()}
            >{kept ? `Kept at ${keptAt}` : `Keep it at ${bench.aim}`}</Button
          >
          {#if kept}
            <a class="underline" use:link href="/jobs/{bench.number}/signals/{kept}">Look at it closely</a>
          {/if}
        </div>
      {/if}
      {#if view.between.length > 0}
        <Figures list={view.between} label="Between the channels" at="" wide />
      {/if}
      <Figures
        list={channel.list}
        label="Figures"
        at={bench.aim}
        onsay={logs ? (text) => void say(text) : undefined}
        wide
      />
    {/if}
  </form>
</Modal>

<script lang="ts">
  import { Button, Input, Select } from 'flowbite-svelte';
  import { api } from '../api/client';
  import type { CapturesView } from '../api/types.gen';
  import { moment } from '../shared/format';
  import Modal from '../shared/Modal.svelte';
  import { site } from '../shared/site.svelte';
  import Compared from './Compared.svelte';
  import Figures from './Figures.svelte';
  import type { Look, Signals } from './signals.svelte';

  /** What was measured of the one looked at, and of it against a reference. */
  let { signals, view }: { signals: Signals; view: CapturesView } = $props();

  let describing = $state(false);
  let striking = $state.raw<Look | null>(null);
  const look = $derived(signals.look);
  const now = $derived(signals.now);

  let shape = $state('sine');
  let level = $state('');
  let frequency = $state('');
</script>

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

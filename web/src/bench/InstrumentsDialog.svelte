<script lang="ts">
  import { Button, Input, Select, Textarea } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import { api, newId, told } from '../api/client';
  import type { BenchInstrument, StandinFault, ToMeasure } from '../api/types.gen';
  import { me } from '../shared/me.svelte';
  import type { Bench } from './bench.svelte';

  /** The instruments in the network with their words, and what is wrong with the simulated set. */
  let { bench, open = $bindable() }: { bench: Bench; open: boolean } = $props();

  let edited: BenchInstrument | null = $state.raw(null);
  let name = $state('');
  let kind: BenchInstrument['kind'] = $state('scope');
  let address = $state('');
  let words = $state('');
  let wrong = $state('');
  let said: Record<string, string> = $state.raw({});
  let busy = $state(false);
  let wide = $state(false);
  let block = $state('');
  let effect: StandinFault['effect'] = $state('dead');

  const tools = $derived(bench.tools);
  const practice = $derived(bench.practice);

  function edit(instrument: BenchInstrument | null) {
    edited = instrument ?? { id: newId(), name: '', kind: 'scope', address: '', words: '', standIn: false };
    name = edited.name;
    kind = edited.kind;
    address = edited.address;
    wide = edited.wide ?? false;
    words = instrument ? instrument.words : (tools?.usual['scope'] ?? '');
    wrong = '';
  }
  async function doing(work: () => Promise<void>) {
    busy = true;
    wrong = '';
    try {
      await work();
    } catch (error) {
      wrong = told(error);
    } finally {
      busy = false;
    }
  }
  const keep = () =>
    doing(async () => {
      if (!edited) return;
      bench.tools = await api.putInstrument(edited.id, { ...edited, name, kind, address, words, wide });
      edited = null;
    });
  const remove = (id: string) =>
    doing(async () => {
      bench.tools = await api.removeInstrument(id);
    });
  async function identify(id: string) {
    said = { ...said, [id]: '…' };
    try {
      said = { ...said, [id]: (await api.identify(id)).text || 'it answers' };
    } catch (error) {
      said = { ...said, [id]: told(error) };
    }
  }
  /** What each kind measures at once, without a point. */
  const measures: Record<BenchInstrument['kind'], ToMeasure['what'][]> = {
    scope: [],
    generator: [],
    meter: ['dc', 'ac', 'resistance'],
    tester: ['capacitance', 'esr', 'resistance'],
    logger: [],
  };
  async function measure(id: string, what: ToMeasure['what']) {
    said = { ...said, [id]: '…' };
    try {
      said = { ...said, [id]: `${what}: ${(await api.measure(id, { what })).text}` };
    } catch (error) {
      said = { ...said, [id]: told(error) };
    }
  }
  const probe = (on: string) =>
    doing(async () => {
      bench.practice = await api.hands(bench.number, { probe: on, generator: false, conditions: bench.conditions });
    });
  const practise = (fault: StandinFault, how: { draw?: boolean; reveal?: boolean }) =>
    doing(async () => {
      bench.practice = await api.practise(bench.number, { fault, draw: false, reveal: false, ...how });
    });
  const nothing: StandinFault = { block: '', effect: 'dead' };
  /** What the messages may leave to be filled in. */
  const filled = '{seconds} {points} {volts} {channel} {coupling} {factor} {shape} {hz}';
</script>

<Modal title="Instruments" bind:open size="lg">
  <div class="text-ink flex flex-col gap-3">
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    {#if edited}
      <form
        class="flex flex-col gap-3"
        onsubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <div class="grid gap-3 sm:grid-cols-3">
          <label>Name<Input class="mt-1" bind:value={name} placeholder="bench scope" /></label>
          <label
            >What it is
            <Select
              placeholder=""
              class="mt-1"
              bind:value={kind}
              onchange={() => (words = tools?.usual[kind] ?? words)}
            >
              <option value="scope">scope</option>
              <option value="generator">generator</option>
              <option value="meter">meter</option>
              <option value="tester">component tester</option>
            </Select></label
          >
          <label
            >Address in the network<Input
              class="figure mt-1"
              bind:value={address}
              placeholder="192.168.1.20:5025"
            /></label
          >
        </div>
        <label
          >Its words: action, message, answer
          <Textarea class="figure bg-panel dark:bg-panel text-small mt-1 w-full" rows={12} bind:value={words} /></label
        >
        <p class="text-small text-soft">
          Its address is in the workshop’s own network: private, or this machine’s.
          {#if me.view?.here}
            <label class="text-ink"
              ><input type="checkbox" class="mr-1" bind:checked={wide} />Elsewhere too: what is asked and answered can
              be read on the way</label
            >
          {/if}
        </p>
        <p class="text-small text-soft">
          The manual of the instrument has its remote messages. Filled in are {filled}; an action that it has no message
          for is left out. Only instruments that are rated for the set go on it: a grounded scope or generator never on
          a live chassis.
        </p>
        <div class="flex justify-end gap-3">
          <Button color="alternative" type="button" onclick={() => (edited = null)}>Cancel</Button>
          <Button type="submit" disabled={busy}>Keep</Button>
        </div>
      </form>
    {:else}
      <ul aria-label="Instruments">
        {#each tools?.instruments ?? [] as instrument (instrument.id)}
          <li class="border-rule flex flex-wrap items-baseline gap-x-4 border-t py-1 first:border-0">
            <b>{instrument.name}</b>
            <span class="text-soft">{instrument.kind}</span>
            <span class="figure text-soft">{instrument.address}</span>
            <button type="button" class="underline" onclick={() => void identify(instrument.id)}>ask it</button>
            {#each measures[instrument.kind] as what (what)}
              <button type="button" class="underline" onclick={() => void measure(instrument.id, what)}
                >{{
                  dc: 'DC',
                  ac: 'AC',
                  resistance: 'ohms',
                  capacitance: 'capacitance',
                  esr: 'ESR',
                  frequency: 'frequency',
                }[what]}</button
              >
            {/each}
            {#if instrument.standIn}
              <span class="text-small text-soft">simulated, comes with Step Trace</span>
            {:else}
              <button type="button" class="underline" onclick={() => edit(instrument)}>change</button>
              <button type="button" class="underline" onclick={() => void remove(instrument.id)}>take away</button>
            {/if}
            {#if said[instrument.id]}<span class="w-full" role="status">{said[instrument.id]}</span>{/if}
          </li>
        {:else}
          <li class="text-soft">None yet.</li>
        {/each}
      </ul>
      <div><Button color="alternative" type="button" onclick={() => edit(null)}>Add one</Button></div>
      <p class="text-small text-soft">
        The first scope, generator and meter in the list are used; your own come before the simulated ones.
      </p>
    {/if}
    {#if practice && !edited}
      <section aria-label="Practice" class="border-line border-t pt-3">
        <h3 class="lead">The practice set</h3>
        <p>
          A set computed from this job's service sheet. {practice.hidden
            ? 'Something is wrong with it, and is not told.'
            : practice.fault.block
              ? `${practice.fault.block} is ${practice.fault.effect}.`
              : 'Nothing is wrong with it.'}
        </p>
        <div class="mt-2 flex flex-wrap items-end gap-3">
          <Button type="button" disabled={busy} onclick={() => void practise(nothing, { draw: true })}
            >Draw a fault, do not tell</Button
          >
          <label class="text-small text-soft"
            >Or at fault
            <Select placeholder="" size="sm" class="mt-0.5 w-52" bind:value={block}>
              <option value="">nothing</option>
              {#each practice.blocks as name (name)}<option value={name}>{name}</option>{/each}
            </Select></label
          >
          <label class="text-small text-soft"
            >How
            <Select placeholder="" size="sm" class="mt-0.5 w-36" bind:value={effect}>
              {#each practice.effects as name (name)}<option value={name}>{name}</option>{/each}
            </Select></label
          >
          <Button color="alternative" type="button" disabled={busy} onclick={() => void practise({ block, effect }, {})}
            >Take this</Button
          >
          {#if practice.capacitors.length > 0}
            <label class="text-small text-soft"
              >Tester on
              <Select
                placeholder=""
                size="sm"
                class="mt-0.5 w-32"
                value={practice.probe}
                onchange={(e) => void probe(e.currentTarget.value)}
              >
                <option value={practice.capacitors.includes(practice.probe) ? '' : practice.probe}>no capacitor</option>
                {#each practice.capacitors as name (name)}<option value={name}>{name}</option>{/each}
              </Select></label
            >
          {/if}
          {#if practice.hidden}
            <Button
              color="alternative"
              type="button"
              disabled={busy}
              onclick={() => void practise(nothing, { reveal: true })}>Tell it</Button
            >
          {/if}
        </div>
      </section>
    {/if}
  </div>
</Modal>

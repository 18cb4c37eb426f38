<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import Modal from './Modal.svelte';
  import { api, now, told } from '../api/client';
  import type { JobView, Repair, RepairForm, RepairPart as Part, RepairTemporary as Temporary } from '../api/types.gen';
  import Placed from '../board/Placed.svelte';
  import { Entry } from './entry';

  /** What was done to the set: a repair, which begins a new round of readings; or something put in for a while. */
  interface Props {
    number: number;
    open: boolean;
    /** The stage, rail or control it was most probably done to; empty: what the trace says. */
    stage?: string;
    /** The part that is looked at. */
    part?: string;
    onnoted: (view: JobView) => void;
  }
  let { number, open = $bindable(), stage = '', part = '', onnoted }: Props = $props();

  const entry = new Entry();
  let form = $state.raw<RepairForm | null>(null);
  let wrong = $state('');
  let busy = $state(false);
  let awhile = $state(false); // it is put in for a while
  let did = $state<Repair['did']>('replaced');
  let at = $state('');
  let parts = $state<Required<Part>[]>([]);
  let where = $state('');
  let note = $state('');
  let what = $state<Temporary['what']>('jumper');
  let subject = $state('');

  const empty = (): Required<Part> => ({ name: '', found: 'bad', fitted: '' });
  const place = $derived(form?.places.find((p) => p.name === at));
  const names: Record<Part['found'], string> = {
    bad: 'was bad',
    wrong: 'was wrong when found',
    precaution: 'as a precaution',
  };

  $effect(() => {
    if (open) untrack(() => void begin());
  });
  async function begin() {
    wrong = where = note = subject = '';
    awhile = false;
    did = 'replaced';
    try {
      form = await api.repairForm(number);
      choose(stage || form.stage);
    } catch (error) {
      wrong = told(error);
    }
  }
  /** What was condemned there is what is renewed; or else the part that is looked at. */
  function choose(name: string) {
    at = name;
    const known = form?.places.find((p) => p.name === name)?.parts ?? [];
    const chosen = known.filter((p) => p.condemned !== '');
    if (chosen.length === 0) chosen.push(...known.filter((p) => p.name === part));
    parts = chosen.map((p) => ({ name: p.name, found: p.found, fitted: p.value }));
    if (parts.length === 0) parts = [empty()];
  }
  function named(row: Required<Part>) {
    const known = place?.parts.find((p) => p.name === row.name.trim());
    if (known && row.fitted === '' && did === 'replaced') row.fitted = known.value;
  }

  async function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    if (busy) return;
    const filled = parts
      .filter((p) => p.name.trim() !== '')
      .map((p) => ({ ...p, name: p.name.trim(), fitted: p.fitted.trim() }));
    const said = awhile
      ? { temporary: { what, subject: subject.trim(), note: note.trim() } }
      : { repair: { did, stage: at, parts: filled, where: where.trim(), note: note.trim() } };
    busy = true;
    try {
      const view = await api.noteRepair(number, { id: entry.idOf(said), at: now(), ...said });
      entry.done();
      open = false;
      onnoted(view);
    } catch (error) {
      wrong = told(error);
    } finally {
      busy = false;
    }
  }
</script>

<Modal title={awhile ? 'Put in for a while' : 'What was done to it'} bind:open size="md">
  <form class="text-ink flex flex-col gap-3" {onsubmit}>
    {#if awhile}
      <div class="grid grid-cols-2 gap-3">
        <label
          >What
          <Select placeholder="" class="mt-1" bind:value={what}>
            {#each form?.stopgaps ?? [] as s (s)}<option value={s}>{s}</option>{/each}
          </Select></label
        >
        <label
          >Of what
          <Input class="mt-1" bind:value={subject} list="repair-subjects" placeholder="fuse, stage or part" required />
        </label>
      </div>
      <datalist id="repair-subjects">
        {#each what === 'fuse bridged' ? (form?.fuses ?? []) : (form?.places ?? []).map((p) => p.name) as name (name)}<option
            value={name}
          ></option>{/each}
      </datalist>
      <p class="text-small">
        <span class="text-hazard" aria-hidden="true">▲</span> A bridged fuse protects nothing: a lamp or a limited supply
        in series, for as long as the test takes. It counts with every reading until it is noted as out, and is asked for
        at the end.
      </p>
    {:else}
      <fieldset class="flex flex-wrap gap-x-4 gap-y-1" aria-label="What was done">
        {#each form?.dids ?? [] as d (d)}
          <label class="flex items-center gap-1.5"><input type="radio" value={d} bind:group={did} />{d}</label>
        {/each}
      </fieldset>
      <div class="grid gap-3 sm:grid-cols-2">
        <label
          >In or at
          <Select
            placeholder=""
            class="mt-1"
            value={at}
            onchange={(e) => choose((e.currentTarget as HTMLSelectElement).value)}
          >
            <option value="">none of these</option>
            {#each form?.places ?? [] as p (p.name)}<option value={p.name}>{p.name}</option>{/each}
          </Select></label
        >
        <label>Where on it<Input class="mt-1" bind:value={where} placeholder="pin 4, corner by the plug" /></label>
      </div>
      <div class="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_minmax(0,1fr)] gap-x-2 gap-y-1" aria-label="Parts">
        <span class="lead">Part</span><span class="lead">It</span><span class="lead">Fitted now</span>
        {#each parts as row, i (i)}
          <Input
            size="sm"
            aria-label="Part {i + 1}"
            bind:value={row.name}
            list="repair-parts"
            placeholder="C212"
            onchange={() => named(row)}
          />
          <Select placeholder="" size="sm" aria-label="Found {i + 1}" bind:value={row.found}>
            {#each Object.entries(names) as [found, name] (found)}<option value={found}>{name}</option>{/each}
          </Select>
          <Input
            size="sm"
            class="figure"
            aria-label="Fitted {i + 1}"
            bind:value={row.fitted}
            placeholder="value or type"
          />
        {/each}
      </div>
      {#if form && open}<Placed sheet={form.sheet} names={parts.map((p) => p.name.trim())} height={104} />{/if}
      <datalist id="repair-parts">
        {#each place?.parts ?? [] as p (p.name)}<option value={p.name}></option>{/each}
      </datalist>
      <p>
        <button type="button" class="text-measured underline" onclick={() => parts.push(empty())}>Another part</button>
      </p>
      <p class="text-small text-soft">
        What was wrong when found, another value or a lead somewhere else, is this set's own history; what failed is
        remembered of the model. Readings from here on describe the set as it is now.
      </p>
    {/if}
    <label>Note<Input class="mt-1" bind:value={note} placeholder="may stay empty" /></label>
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    <div class="flex flex-wrap items-center gap-3">
      <Button type="submit" disabled={busy}>Take it down</Button>
      <Button type="button" color="alternative" onclick={() => (open = false)}>Close</Button>
      <button type="button" class="text-measured ml-auto underline" onclick={() => (awhile = !awhile)}
        >{awhile ? 'A repair' : 'Only for a while: a jumper, a bridged fuse'}</button
      >
    </div>
  </form>
</Modal>

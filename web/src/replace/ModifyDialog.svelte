<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import { api, now, told } from '../api/client';
  import type { Modified, ReplaceView } from '../api/types.gen';
  import CircuitDialog from '../inside/CircuitDialog.svelte';
  import Figure from '../inside/Figure.svelte';
  import { Inside } from '../inside/inside.svelte';
  import { Entry } from '../shared/entry';
  import Modal from '../shared/Modal.svelte';

  /** What the workshop changes in sets of this model: those that are known, and one to be kept. */
  interface Props {
    view: ReplaceView;
    open: boolean;
    /** The one that is looked at; empty: a new one. */
    what: string;
    closed: boolean;
    onchanged: () => Promise<void>;
  }
  let { view, open = $bindable(), what = $bindable(), closed, onchanged }: Props = $props();

  const inside = new Inside(untrack(() => view.number));
  const entry = new Entry();
  const looked = $derived(view.modifications.find((m) => m.what === what));
  let typed = $state({ what: '', stage: '', why: '', how: '' });
  let here = $state(true); // it is done in this set
  let wrong = $state('');
  let busy = $state(false);
  let drawing = $state(false);
  const places = $derived(
    (inside.view?.stages ?? []).map((s) => s.stage).filter((s) => !view.modifications.some((m) => m.what === s)),
  );

  $effect(() => {
    void what; // and not what is told anew of it: what is being typed stays
    untrack(() => {
      const m = looked;
      typed = { what: m?.what ?? '', stage: m?.stage ?? '', why: m?.why ?? '', how: m?.how ?? '' };
      here = m === undefined;
      void inside.load(m?.what ?? '');
    });
  });

  async function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    wrong = '';
    const name = typed.what.trim();
    try {
      const job = here && !looked?.job ? String(view.number) : (looked?.job ?? '');
      await api.keepModification(view.sheetId, { revision: view.revision, ...typed, job });
      if (here && !looked?.here) {
        const repair = { did: 'modified' as const, stage: typed.stage, where: name, note: typed.why.trim() };
        await api.noteRepair(view.number, { id: entry.idOf(repair), at: now(), repair });
        entry.done();
      }
      await onchanged();
      what = name;
    } catch (error) {
      wrong = told(error);
      await onchanged(); // another may have changed the sheet
    } finally {
      busy = false;
    }
  }
  const says = (m: Modified) => (m.here ? 'made in this set' : m.job ? `first in No. ${m.job}` : '');
</script>

<Modal title="Modifications of {view.set}" bind:open size="xl">
  <div class="text-ink grid gap-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,2fr)]">
    <ul aria-label="Modifications" class="max-h-[60vh] overflow-y-auto p-1">
      {#each view.modifications as m (m.what)}
        <li>
          <button
            type="button"
            class={['w-full rounded-md px-2 py-1 text-left', m.what === what && 'bg-chip']}
            aria-pressed={m.what === what}
            onclick={() => (what = m.what)}
            ><b>{m.what}</b>
            <span class="text-small text-soft block">{[m.stage, says(m)].filter(Boolean).join(', ')}</span></button
          >
        </li>
      {/each}
      {#if !closed}
        <li>
          <button
            type="button"
            class={['w-full rounded-md px-2 py-1 text-left', what === '' && 'bg-chip']}
            aria-pressed={what === ''}
            onclick={() => (what = '')}>Another</button
          >
        </li>
      {/if}
    </ul>
    <form class="flex min-w-0 flex-col gap-2" {onsubmit}>
      <fieldset disabled={closed} class="flex flex-col gap-2">
        <div class="grid gap-2 sm:grid-cols-2">
          <label
            >What is changed<Input
              class="mt-1"
              bind:value={typed.what}
              disabled={looked !== undefined}
              placeholder="damping resistor at the entry"
            /></label
          >
          <label
            >In
            <Select placeholder="" class="mt-1" bind:value={typed.stage}>
              <option value="">no stage of the sheet</option>
              {#each places as s (s)}<option value={s}>{s}</option>{/each}
            </Select></label
          >
        </div>
        <label>Why<Input class="mt-1" bind:value={typed.why} placeholder="it swings with some aerials" /></label>
        <label
          >How<textarea
            class="border-line bg-panel mt-1 h-20 w-full rounded-md border px-3 py-1"
            bind:value={typed.how}
            placeholder="what is cut, fitted and joined, and what it showed before and after"></textarea></label
        >
        {#if !closed && !looked?.here}
          <label class="flex items-center gap-2"
            ><input type="checkbox" bind:checked={here} />It is made in this set: noted as a repair, and the bench
            verifies it</label
          >
        {/if}
      </fieldset>
      {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
      {#if looked?.drawn && inside.looked?.stage === looked.what}<Figure {inside} height={220} />{/if}
      <div class="flex flex-wrap items-baseline gap-2">
        {#if !closed}
          <Button type="submit" size="sm" disabled={busy}>Keep it with the model</Button>
          <Button
            type="button"
            size="sm"
            color="alternative"
            disabled={looked === undefined || inside.turning}
            onclick={() => (drawing = true)}>{looked?.drawn ? 'Change its circuit' : 'Draw its circuit'}</Button
          >
        {/if}
        <Button type="button" size="sm" color="alternative" onclick={() => (open = false)}>Close</Button>
        {#if looked === undefined}<span class="text-small text-soft">Once it is kept, its circuit can be drawn.</span
          >{/if}
      </div>
    </form>
  </div>
</Modal>
{#if drawing}
  <CircuitDialog
    {inside}
    bind:open={
      () => drawing,
      (shown) => {
        drawing = shown;
        if (!shown) void onchanged();
      }
    }
  />
{/if}

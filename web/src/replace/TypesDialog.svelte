<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { DeviceRow, TypesView } from '../api/types.gen';
  import FileButton from '../shared/FileButton.svelte';
  import Modal from '../shared/Modal.svelte';

  /** The types of parts: looked up, and the workshop's own entered. */
  let { open = $bindable(false), onchanged }: { open: boolean; onchanged: () => void } = $props();

  let view: TypesView | null = $state.raw(null);
  let looked = $state('');
  let trouble = $state('');
  let row: DeviceRow | null = $state(null);

  const fields: [keyof DeviceRow, string, string][] = [
    ['type', 'type', '2SC1815'],
    ['polarity', 'polarity', 'npn, pnp, n, p'],
    ['material', 'material', 'silicon'],
    ['volts', 'volts', '50 V'],
    ['amps', 'amps', '150 mA'],
    ['watts', 'watts at 25 °C', '400 mW'],
    ['heat', 'of the air or the case', 'air'],
    ['gain', 'gain', '70-700'],
    ['at', 'at', '2 mA'],
    ['frequency', 'transition frequency', '80 MHz'],
    ['speed', 'recovery', '4 ns'],
    ['drop', 'drop, or output', '0.7 V'],
    ['threshold', 'threshold, or pinch-off', '2-4 V'],
    ['case', 'case', 'TO-92'],
    ['legs', 'legs, in order', 'E C B'],
    ['pair', 'of the other polarity', '2SA1015'],
    ['note', 'note', ''],
  ];

  let field: HTMLInputElement | undefined = $state();
  $effect(() => {
    if (field) setTimeout(() => field?.focus()); // behind the dialog's own first field
  });
  async function ask(act: () => Promise<TypesView>) {
    try {
      view = await act();
      trouble = '';
      return true;
    } catch (error) {
      trouble = told(error);
      return false;
    }
  }
  $effect(() => {
    const q = looked;
    void ask(() => api.types({ q }));
  });
  async function keep() {
    const r = row;
    if (!r || !(await ask(() => api.putType(r)))) return;
    looked = r.type;
    row = null;
    onchanged();
  }
  const about = (t: DeviceRow) =>
    [t.kind, t.polarity, t.volts, t.amps, t.watts, t.gain && `gain ${t.gain}`, t.frequency, t.case]
      .filter(Boolean)
      .join(' ');
</script>

<Modal bind:open title="Types of parts" size="lg">
  {#if trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
  {#if row}
    <form
      class="grid gap-2 sm:grid-cols-3"
      onsubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <label class="text-small"
        >kind<select class="border-line bg-panel w-full rounded-md border px-2 py-1" bind:value={row.kind}>
          {#each view?.kinds ?? [] as k (k)}<option value={k}>{k}</option>{/each}
        </select></label
      >
      {#each fields as [name, label, example] (name)}
        <label class="text-small"
          >{label}<input
            class="border-line bg-panel w-full rounded-md border px-2 py-1"
            autocomplete="off"
            placeholder={example}
            bind:value={row[name]}
          /></label
        >
      {/each}
      <p class="text-small text-soft sm:col-span-3">
        As its maker's sheet says; what is not certain stays empty. Legs as seen from the marked side, legs down; of a
        can from below, clockwise from its tab.
      </p>
      <div class="flex gap-2 sm:col-span-3">
        <Button type="submit" size="sm">Keep it</Button>
        <Button type="button" size="sm" color="alternative" onclick={() => (row = null)}>Leave it</Button>
      </div>
    </form>
  {:else}
    <div class="flex flex-wrap items-end gap-3">
      <label class="min-w-0 flex-1"
        >Look up
        <input
          class="border-ink bg-panel w-full rounded-lg border-2 px-3 py-1"
          autocomplete="off"
          bind:this={field}
          placeholder="c1815, bd139, 7812; empty shows the workshop's own"
          bind:value={looked}
        /></label
      >
      <Button
        size="sm"
        color="alternative"
        onclick={() => (row = { type: looked, kind: 'transistor', material: 'silicon' })}>Enter one</Button
      >
      <a class="text-small self-center underline" href="./api/types.csv" download>the table as CSV</a>
      <FileButton
        accept=".csv,.txt"
        onfile={(file) => void ask(() => api.readTypes(file)).then((done) => done && onchanged())}
        >Take a table in</FileButton
      >
    </div>
    <ul class="max-h-96 overflow-y-auto" aria-label="Types">
      {#each view?.types ?? [] as t (t.type)}
        <li class="border-rule border-t py-1">
          <span class="flex flex-wrap items-baseline gap-x-3">
            <b class="text-name">{t.type}</b><span class="figure text-small">{about(t)}</span>
            {#if t.legs}<span class="text-small">legs <b class="figure">{t.legs}</b> {t.seen}</span>{/if}
            <button type="button" class="text-small ml-auto underline" onclick={() => (row = { ...t })}
              >{t.own ? 'change' : 'correct it'}</button
            >
            {#if t.own}
              <button
                type="button"
                class="text-small underline"
                onclick={() => void ask(() => api.removeType(t.type)).then(onchanged)}>take away</button
              >
            {/if}
          </span>
          <span class="text-small text-soft block">{[t.note, t.sure].filter(Boolean).join('; ')}</span>
        </li>
      {:else}
        <li class="text-soft py-1">
          {looked.trim() === ''
            ? `${view?.count ?? 0} types are known; none is the workshop's own.`
            : 'None of that name.'}
        </li>
      {/each}
    </ul>
  {/if}
</Modal>

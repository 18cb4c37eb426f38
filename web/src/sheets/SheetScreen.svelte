<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'sheet',
    key: '8',
    aside: true,
    name: 'Sheet',
    order: 900,
    route: '/sheets/:id',
    at: (head) => `/sheets/${head.sheetId}`,
  };
</script>

<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import { push, replace } from 'svelte-spa-router';
  import StepChart from '../bench/StepChart.svelte';
  import { declare } from '../shared/commands';
  import Key from '../shared/Key.svelte';
  import FileButton from '../shared/FileButton.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Page from '../shared/Page.svelte';
  import { filled } from '../shared/rows';
  import Grid from '../shared/Grid.svelte';
  import PasteDialog from './PasteDialog.svelte';
  import { SheetDraft } from './sheet.svelte';

  let { params }: { params: { id: string } } = $props();

  // A new sheet gets its number by being saved; it stays the same draft then.
  let kept: SheetDraft | undefined;
  const draft = $derived.by(() => {
    const id = params.id;
    if (!kept || untrack(() => String(kept?.id)) !== id) kept = new SheetDraft(id);
    return kept;
  });
  let shown = $state('path');
  let pasting = $state(false);

  $effect(() => {
    if (!draft.tables) void draft.load();
  });

  const table = $derived(draft.tables?.tables.find((t) => t.name === shown));
  const faults = (name: string) => draft.check.problems.filter((p) => p.cell?.table === name).length;

  async function save() {
    const id = await draft.save();
    if (id && params.id === 'new') await replace(`/sheets/${id}`);
  }
  /** One with its pictures is a sheet of its own; any other is read into this one. */
  async function read(file: File) {
    if (!file.name.toLowerCase().endsWith('.zip')) return draft.read(file);
    const id = await draft.unpack(file);
    if (id) await push(`/sheets/${id}`);
  }
  const commands = declare({
    paste: { keys: ['p'], title: 'paste a whole table', act: () => (pasting = true) },
    save: { keys: ['s'], shown: 's or Ctrl+s', title: 'save', act: () => save() },
    taught: {
      keys: ['t'],
      title: 'what finished jobs of the model taught',
      when: () => draft.id > 0,
      act: () => push(`/sheets/${draft.id.toString()}/past`),
    },
    along: { keys: [], shown: '↑ ↓ ← →', title: 'between cells; Enter goes down, Esc leaves them' },
    insert: { keys: [], shown: 'Insert', title: 'an empty row above' },
    remove: { keys: [], shown: 'Ctrl+Delete', title: 'remove the row' },
  });
</script>

<svelte:window
  onkeydown={(e) => {
    if (e.ctrlKey && e.key === 's') {
      e.preventDefault();
      void save();
    }
  }}
/>

{#if draft.missing}
  <Nowhere title="This sheet cannot be shown" text={draft.missing} />
{:else if draft.tables}
  {@const tables = draft.tables}
  <Page title={tables.model ? `${tables.maker} ${tables.model}`.trim() : 'New service sheet'} here="Sheets" {commands}>
    {#snippet actions()}
      <Button color="alternative" onclick={() => (pasting = true)}>Paste a table</Button>
      <FileButton accept=".json,.csv,.tsv,.txt,.zip" onfile={(file) => void read(file)}>Read a file</FileButton>
      {#if draft.id}
        <Button color="alternative" href="./api/sheets/{draft.id}/file.json" download>JSON</Button>
        <Button color="alternative" href="./api/sheets/{draft.id}/file.csv" download>CSV</Button>
        <Button color="alternative" href="#/sheets/{draft.id}/pictures">Pictures</Button>
        <Button color="alternative" href="#/sheets/{draft.id}/past"><Key of="taught" />What it taught</Button>
        {#if !draft.changed && !draft.check.blocked}
          <Button color="alternative" onclick={() => push(`/jobs/new?sheet=${draft.id}`)}>New job</Button>
        {/if}
      {/if}
      {#if draft.changed && draft.id}
        <Button color="alternative" onclick={() => void draft.revert()}>Back to what is saved</Button>
      {/if}
      <Button onclick={() => void save()} disabled={draft.busy || !draft.changed}>Save</Button>
    {/snippet}

    {#if draft.check.drawn}
      <div class="border-line bg-panel relative border-b">
        {#if draft.check.routes.length > 1}
          <label class="text-small text-soft absolute top-1.5 left-[18px] z-10 flex items-center gap-2">
            Drawn
            <Select
              placeholder=""
              class="w-auto"
              value={draft.check.drawn.route}
              onchange={(e) => {
                draft.route = e.currentTarget.value;
                draft.recheck();
              }}
            >
              {#each draft.check.routes as route (route.key)}<option value={route.key}>{route.name}</option>{/each}
            </Select>
          </label>
        {/if}
        <StepChart points={draft.check.drawn.points} stages={draft.check.drawn.stages} plot={160} tracing={false} />
      </div>
    {/if}

    <div class="flex flex-col gap-3 px-[18px] py-3">
      {#if draft.trouble}
        <p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{draft.trouble}</p>
      {/if}
      {#if draft.done}<p class="border-expect border-l-4 pl-3" role="status">{draft.done}</p>{/if}
      <div class="grid gap-x-4 gap-y-2 sm:grid-cols-2 lg:grid-cols-[1fr_1fr_2fr_3fr]">
        <label class="text-small text-soft"
          >Maker<Input bind:value={tables.maker} oninput={() => draft.edited()} /></label
        >
        <label class="text-small text-soft"
          >Model<Input bind:value={tables.model} oninput={() => draft.edited()} /></label
        >
        <label class="text-small text-soft"
          >What it is<Input
            bind:value={tables.kind}
            placeholder="stereo tape deck"
            oninput={() => draft.edited()}
          /></label
        >
        <label class="text-small text-soft"
          >Controls stand<Input
            bind:value={tables.settings}
            placeholder="volume full, tone flat, 8 Ω load"
            oninput={() => draft.edited()}
          /></label
        >
      </div>

      {#if draft.check.problems.length > 0 && (draft.changed || draft.id)}
        <ul class="border-fault max-h-32 overflow-y-auto border-l-4 pl-3" aria-label="Problems">
          {#each draft.check.problems as problem, i (i)}
            <li>
              <span class={problem.severity === 'error' ? 'text-fault font-semibold' : 'font-semibold'}
                >{problem.severity === 'error' ? 'Mend' : 'Doubtful'}</span
              >
              {problem.where}: {problem.message}
              {#if problem.cell}
                <button
                  type="button"
                  class="text-measured underline"
                  onclick={() => {
                    shown = problem.cell?.table ?? shown;
                  }}>row {problem.cell.row + 1}</button
                >
              {/if}
            </li>
          {/each}
        </ul>
      {/if}

      <div class="flex flex-wrap gap-1" role="tablist" aria-label="Tables of the sheet">
        {#each tables.tables as t (t.name)}
          <button
            type="button"
            role="tab"
            aria-selected={t.name === shown}
            class={[
              'border-b-3 px-3 py-1',
              t.name === shown ? 'border-measured font-semibold' : 'text-soft hover:text-ink border-transparent',
            ]}
            onclick={() => (shown = t.name)}
          >
            {t.title} <span class="figure text-small">{filled(t.rows).length}</span>
            {#if faults(t.name) > 0}<span class="text-small text-fault font-semibold">▲ {faults(t.name)}</span>{/if}
          </button>
        {/each}
      </div>
      {#if table}
        {#if filled(table.rows).length === 0}
          <p class="text-soft">{table.empty}</p>
        {/if}
        <Grid
          columns={table.columns}
          bind:rows={table.rows}
          problems={(row, column) => draft.problemsAt({ table: table.name, row, column })}
          onedit={(rows) => draft.edited(rows)}
          ontable={(text) => void draft.read(text)}
        />
      {/if}
    </div>
  </Page>

  <PasteDialog {draft} bind:open={pasting} />
{/if}

<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import { push, replace } from 'svelte-spa-router';
  import StepChart from '../bench/StepChart.svelte';
  import FileButton from '../shared/FileButton.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Page from '../shared/Page.svelte';
  import Grid from './Grid.svelte';
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

  const titles: Record<string, string> = {
    path: 'Points and stages',
    stages: 'Further stages',
    expected: 'Further values',
    rails: 'Rails',
    controls: 'Controls and grounds',
    routes: 'Names of routes',
    reservoirs: 'Reservoirs',
    tracks: 'Copper',
    hazards: 'Dangers',
    weak: 'Usual faults',
    circuits: 'Circuits',
  };
  const empty: Record<string, string> = {
    path: 'Type the first point, or paste a table: each row is a point and the stage that leads to it from the row above.',
    stages: 'Stages that do not fit the first table: where several lead to one point.',
    expected:
      'Values that hold under other conditions: in one mode only, at another generator level, of another shape.',
    rails: 'The supply lines that stages need.',
    controls:
      'What stages need besides supply: lines that let them pass, mute, tune, select or set the gain, and the grounds they stand on.',
    routes: 'Names for the ways through the set, from an entry to an exit.',
    reservoirs:
      'The capacitors that keep their charge after the set is off: what they hold and how to empty them follows.',
    tracks: 'Places along a rail’s copper, from the supply outwards, and what hangs there: for finding a short.',
    hazards: 'What in the set can hurt. Reservoirs and high voltages are found by themselves.',
    weak: 'The usual faults of the model. They are offered first where the complaint fits.',
    circuits: 'What a stage, or a rail’s supply, is made of: its parts, and between which nodes they lie.',
  };
  const table = $derived(draft.tables?.tables.find((t) => t.name === shown));
  const filled = (rows: string[][]) => rows.filter((cells) => cells.some((c) => c !== '')).length;
  const faults = (name: string) => draft.check.problems.filter((p) => p.cell?.table === name).length;

  async function save() {
    const id = await draft.save();
    if (id && params.id === 'new') await replace(`/sheets/${id}`);
  }
  function onkey(event: KeyboardEvent): boolean {
    if (event.key === 'p') pasting = true;
    else if (event.key === 's') void save();
    else return false;
    return true;
  }
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
  <Page
    title={tables.model ? `${tables.maker} ${tables.model}`.trim() : 'New service sheet'}
    here="Sheets"
    {onkey}
    keys={[
      { keys: 'p', does: 'paste a whole table' },
      { keys: 's or Ctrl+s', does: 'save' },
      { keys: '↑ ↓ ← →', does: 'between cells; Enter goes down, Esc leaves them' },
      { keys: 'Insert', does: 'an empty row above' },
      { keys: 'Ctrl+Delete', does: 'remove the row' },
    ]}
  >
    {#snippet actions()}
      <Button color="alternative" onclick={() => (pasting = true)}>Paste a table</Button>
      <FileButton accept=".json,.csv,.tsv,.txt" onfile={(file) => void draft.read(file)}>Read a file</FileButton>
      {#if draft.id}
        <Button color="alternative" href="./api/sheets/{draft.id}/file.json" download>JSON</Button>
        <Button color="alternative" href="./api/sheets/{draft.id}/file.csv" download>CSV</Button>
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
            {titles[t.name]} <span class="figure text-small">{filled(t.rows)}</span>
            {#if faults(t.name) > 0}<span class="text-small text-fault font-semibold">▲ {faults(t.name)}</span>{/if}
          </button>
        {/each}
      </div>
      {#if table}
        {#if filled(table.rows) === 0}
          <p class="text-soft">{empty[table.name]}</p>
        {/if}
        <Grid {draft} {table} onpath={(text) => void draft.read(text)} />
      {/if}
    </div>
  </Page>

  <PasteDialog {draft} {titles} bind:open={pasting} />
{/if}

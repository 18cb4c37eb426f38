<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { link, push } from 'svelte-spa-router';
  import { api } from '../api/client';
  import type { SheetList, SheetRow } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import Key from '../shared/Key.svelte';
  import Page from '../shared/Page.svelte';
  import { Paged } from '../shared/paged.svelte';
  import Search from '../shared/Search.svelte';
  import { counted, day } from '../shared/format';

  let field: HTMLInputElement | undefined = $state();
  const sheets = new Paged<SheetList, SheetRow>(
    (query) => api.sheets(query),
    (list) => ({ rows: list.sheets, more: list.more }),
  );
  $effect(() => void sheets.load());

  const commands = declare({
    search: { keys: ['/'], title: 'search by maker, model or kind; Esc clears it', act: () => field?.focus() },
    new: { keys: ['n'], title: 'a new sheet', act: () => push('/sheets/new') },
  });
  function remark(s: SheetRow): string {
    if (s.blocked) return 'needs mending before a job can use it';
    if (s.doubts > 0) return s.doubts === 1 ? 'one doubtful place' : `${s.doubts} doubtful places`;
    return '';
  }
</script>

<Page title="Service sheets" here="Sheets" {commands}>
  {#snippet actions()}
    <Button href="#/sheets/new">New sheet <Key of="new" /></Button>
  {/snippet}
  <div class="px-[18px] py-4">
    {#if sheets.answer && (sheets.answer.total > 8 || sheets.words)}
      <div class="mb-3 flex items-center gap-4">
        <div class="min-w-0 flex-1">
          <Search label="Maker, model or kind" words={sheets.words} onsearch={(w) => sheets.search(w)} bind:field />
        </div>
        <span class="text-soft">{counted(sheets.answer.total, 'sheet')}</span>
      </div>
    {/if}
    {#if sheets.trouble}
      <p class="border-fault text-fault mb-3 border-l-4 pl-3 font-semibold" role="alert">{sheets.trouble}</p>
    {/if}
    {#if sheets.answer && sheets.rows.length === 0}
      <p class="text-say font-semibold">
        {sheets.words.trim() ? `No sheet has “${sheets.words.trim()}”.` : 'No service sheets yet.'}
      </p>
      <p class="mt-2">
        A sheet says where to probe in a model and what to expect there. Paste one from a spreadsheet, or type it.
      </p>
    {:else if sheets.answer}
      <ul class="border-line bg-panel border-y">
        {#each sheets.rows as s (s.id)}
          <li class="border-rule border-t first:border-0">
            <a
              use:link
              href="/sheets/{s.id}"
              class="hover:bg-ground flex flex-wrap items-baseline gap-x-4 gap-y-1 px-4 py-3"
            >
              <b class="text-name">{s.name}</b>
              <span class="text-soft flex-1 basis-60">{s.kind}</span>
              {#if remark(s)}<span class="text-fault font-semibold">{remark(s)}</span>{/if}
              <span class="text-soft">
                {counted(s.points, 'point')}, {counted(s.stages, 'stage')}, {counted(s.routes, 'route')},
                {counted(s.jobs, 'job')}
              </span>
              <span class="text-soft">saved {day(s.saved)}</span>
            </a>
          </li>
        {/each}
      </ul>
      {#if sheets.more}
        <p class="py-4 text-center"><Button color="alternative" onclick={() => void sheets.next()}>More</Button></p>
      {/if}
    {/if}
  </div>
</Page>

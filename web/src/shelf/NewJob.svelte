<script lang="ts">
  import { Button, Select, Textarea } from 'flowbite-svelte';
  import { link, push, router } from 'svelte-spa-router';
  import { api, told } from '../api/client';
  import type { SheetList, SheetRow } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import Page from '../shared/Page.svelte';
  import { Paged } from '../shared/paged.svelte';
  import Search from '../shared/Search.svelte';

  const sheets = new Paged<SheetList, SheetRow>(
    (query) => api.sheets(query),
    (list) => ({ rows: list.sheets, more: list.more }),
  );
  let sheet = $state(new URLSearchParams(router.querystring).get('sheet') ?? '');
  let complaint = $state('');
  let trouble = $state('');
  let busy = $state(false);

  $effect(() => void sheets.load());
  let field: HTMLInputElement | undefined = $state();
  const commands = declare({
    search: { keys: ['/'], title: 'search the sheets by maker, model or kind', act: () => field?.focus() },
  });
  // Where one sheet is left it is meant; a sheet that was named in the address need not be on the first page.
  $effect(() => {
    const only = sheets.rows.length === 1 ? sheets.rows[0] : undefined;
    if (sheets.words !== '' && only && !only.blocked) sheet = String(only.id);
  });
  type Choice = Pick<SheetRow, 'id' | 'name' | 'kind' | 'blocked'>;
  let named = $state.raw<Choice | null>(null);
  const choices = $derived<Choice[]>(
    named && String(named.id) === sheet && !sheets.rows.some((s) => s.id === named?.id)
      ? [named, ...sheets.rows]
      : sheets.rows,
  );
  $effect(() => {
    if (sheet === '' || !sheets.answer || choices.some((s) => String(s.id) === sheet)) return;
    api.sheet(sheet).then(
      ({ id, tables: t, check }) =>
        (named = { id, name: `${t.maker} ${t.model}`.trim(), kind: t.kind, blocked: check.blocked }),
      (error: unknown) => (trouble = told(error)),
    );
  });

  async function submit(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    try {
      const { number } = await api.openJob({ sheet: Number(sheet), complaint });
      await push(`/jobs/${number}/intake`);
    } catch (error) {
      trouble = told(error);
    } finally {
      busy = false;
    }
  }
</script>

<Page title="New job" here="" {commands}>
  <form class="mx-auto flex max-w-xl flex-col gap-4 p-[18px]" onsubmit={submit}>
    {#if trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
    {#if sheets.answer && (sheets.answer.total > sheets.rows.length || sheets.words)}
      <Search label="Maker, model or kind" words={sheets.words} onsearch={(w) => sheets.search(w)} bind:field />
    {/if}
    <label>
      The set
      <Select placeholder="" class="mt-1" bind:value={sheet}>
        <option value="">pick its service sheet</option>
        {#each choices as s (s.id)}
          <option value={String(s.id)} disabled={s.blocked}
            >{s.name}{s.kind ? `, ${s.kind}` : ''}{s.blocked ? ' (sheet needs mending)' : ''}</option
          >
        {/each}
      </Select>
    </label>
    {#if sheets.answer}
      <p class="text-small text-soft -mt-2">
        Not there? <a use:link href="/sheets/new" class="text-measured underline">Make its sheet</a>: paste a table from
        the manual or a spreadsheet.
      </p>
    {/if}
    <label>
      What the owner says is wrong
      <Textarea
        class="bg-panel dark:bg-panel mt-1 w-full text-base"
        rows={3}
        bind:value={complaint}
        placeholder="Right side very faint when a tape plays."
      />
    </label>
    <div class="flex gap-3">
      <Button type="submit" disabled={busy}>Open the job</Button>
      <Button color="alternative" href="#/">Cancel</Button>
    </div>
  </form>
</Page>

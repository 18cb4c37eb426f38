<script lang="ts">
  import { Button, Select, Textarea } from 'flowbite-svelte';
  import { link, push, router } from 'svelte-spa-router';
  import { api, told } from '../api/client';
  import type { SheetRow } from '../api/types.gen';
  import Page from '../shared/Page.svelte';

  let sheets: SheetRow[] = $state.raw([]);
  let loaded = $state(false);
  let sheet = $state(new URLSearchParams(router.querystring).get('sheet') ?? '');
  let complaint = $state('');
  let trouble = $state('');
  let busy = $state(false);

  $effect(() => {
    api.sheets().then(
      (list) => {
        sheets = list.sheets;
        loaded = true;
      },
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

<Page title="New job" here="">
  <form class="mx-auto flex max-w-xl flex-col gap-4 p-[18px]" onsubmit={submit}>
    {#if trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
    <label>
      The set
      <Select placeholder="" class="mt-1" bind:value={sheet}>
        <option value="">pick its service sheet</option>
        {#each sheets as s (s.id)}
          <option value={String(s.id)} disabled={s.blocked}
            >{s.name}{s.kind ? `, ${s.kind}` : ''}{s.blocked ? ' (sheet needs mending)' : ''}</option
          >
        {/each}
      </Select>
    </label>
    {#if loaded}
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

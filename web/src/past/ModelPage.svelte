<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { link, push } from 'svelte-spa-router';
  import { api, told } from '../api/client';
  import type { ModelView } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import FileButton from '../shared/FileButton.svelte';
  import { counted, day, worked } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import { Kept } from '../shared/kept.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Page from '../shared/Page.svelte';
  import Faults from './Faults.svelte';

  /** What is known of a model: what its finished jobs taught, here and elsewhere. */
  let { params }: { params: { id: string } } = $props();

  const id = $derived(Number(params.id));
  const kept = $derived.by(() => {
    const of = Number(params.id);
    return new Kept<ModelView>(() => api.model(of));
  });
  const view = $derived(kept.view);
  let complaints = $state(true);
  let done = $state('');

  $effect(() => void kept.load());

  async function borrow(file: File) {
    try {
      const taken = await api.borrow(file);
      await kept.load();
      done = taken.says;
    } catch (error) {
      kept.trouble = told(error);
    }
  }
  async function giveBack(whose: string) {
    try {
      done = (await api.giveBack({ whose })).says;
      await kept.load();
    } catch (error) {
      kept.trouble = told(error);
    }
  }
  const commands = declare({
    sheet: { keys: ['s'], title: 'its service sheet', act: () => push(`/sheets/${params.id}`) },
  });
</script>

{#if kept.missing}
  <Nowhere title="This model cannot be shown" text={kept.missing} />
{:else if view}
  <Page title="{view.set}: what it taught" here="Sheets" {commands}>
    {#snippet actions()}
      <Button color="alternative" href="#/sheets/{view.id}"><Key of="sheet" />The sheet</Button>
    {/snippet}
    <div
      class="grid min-h-full grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,372px)]"
      data-test="model"
    >
      <section class="border-line min-w-0 p-[14px_18px] max-lg:border-b lg:border-r">
        <p class="text-say font-semibold text-pretty" data-test="says">{view.page.says}</p>
        {#if view.page.jobs > 1}<p class="text-soft">
            {[
              `${worked(view.page.minutes)} in the middle`,
              ...(view.page.back > 0 ? [`${counted(view.page.back, 'set')} came back with the same`] : []),
              ...(view.page.gaveUp > 0 ? [`${counted(view.page.gaveUp, 'set')} not repaired`] : []),
            ].join(', ')}.
          </p>{/if}
        {#if kept.trouble}<p class="border-fault text-fault mt-1 border-l-4 pl-3 font-semibold" role="alert">
            {kept.trouble}
          </p>{/if}
        {#if done}<p class="border-expect mt-1 border-l-4 pl-3" role="status">{done}</p>{/if}
        {#if view.page.faults.length > 0}
          <h2 class="lead mt-3">What failed in it</h2>
          <Faults page={view.page} />
        {/if}
        {#if view.page.listed.length > 0}
          <h2 class="lead mt-4">Its jobs here</h2>
          <ul aria-label="Its jobs">
            {#each view.page.listed as j (j.number)}
              <li class="border-rule border-t first:border-0">
                <a use:link href="/jobs/{j.number}" class="hover:bg-panel flex flex-wrap items-baseline gap-x-3 py-1">
                  <span class="figure text-soft">{j.number}</span>
                  <span class="min-w-0 flex-1 basis-60 text-pretty"
                    >{j.was || j.complaint}
                    {#if j.back}<span class="text-fault font-semibold">came back</span>{/if}
                    {#if j.gaveUp}<span class="text-soft">not repaired</span>{/if}</span
                  >
                  {#if j.minutes > 0}<span class="text-soft">{worked(j.minutes)}</span>{/if}
                  <span class="text-soft">{day(j.finished)}</span>
                </a>
              </li>
            {/each}
          </ul>
        {/if}
        {#if view.ofKind.jobs + view.ofKind.lent > view.page.jobs + view.page.lent}
          <h2 class="lead mt-4">In every {view.kind}</h2>
          <p class="text-soft">{view.ofKind.says}</p>
          <Faults page={view.ofKind} />
        {/if}
      </section>
      <section class="bg-panel min-w-0 p-[14px_16px]">
        {#if view.usual.length > 0}
          <h2 class="lead">Usual faults, by the sheet</h2>
          <ul>
            {#each view.usual as u, i (i)}
              <li class="border-rule border-t py-1 first:border-0">
                <b>{u.stage}</b>: {u.what}<span class="text-small text-soft block">{u.says}</span>
              </li>
            {/each}
          </ul>
        {/if}
        {#if view.modifications.length > 0}
          <h2 class="lead mt-4">Changed in every set</h2>
          <ul>
            {#each view.modifications as m (m)}<li class="border-rule border-t py-1 first:border-0">{m}</li>{/each}
          </ul>
        {/if}
        {#if view.pictures.length > 0}
          <h2 class="lead mt-4">Pictures</h2>
          <a use:link href="/sheets/{view.id}/pictures" class="flex flex-wrap gap-2">
            {#each view.pictures as p (p)}<img
                class="border-line h-16 w-20 rounded-md border object-cover"
                src={api.boardPreview(view.id, p)}
                alt=""
              />{/each}
          </a>
        {/if}
        {#if view.alike.length + view.joined.length > 0}
          <h2 class="lead mt-4">The same model?</h2>
          <ul aria-label="The same model">
            {#each view.alike as a (a.id)}
              <li class="flex flex-wrap items-center gap-2 py-1">
                <span class="min-w-0 flex-1">{a.name} is spelt alike</span>
                <Button
                  size="xs"
                  color="alternative"
                  onclick={() => void kept.keep(() => api.join(id, { sheet: a.id }))}>It is the same model</Button
                >
              </li>
            {/each}
            {#each view.joined as a (a.id)}
              <li class="flex flex-wrap items-center gap-2 py-1">
                <span class="min-w-0 flex-1"
                  ><a use:link class="underline" href="/sheets/{a.id}">{a.name}</a> counts as this model</span
                >
                <Button
                  size="xs"
                  color="alternative"
                  onclick={() => void kept.keep(() => api.apart(id, { sheet: a.id }))}>It is another</Button
                >
              </li>
            {/each}
          </ul>
        {/if}
        <h2 class="lead mt-4">To and from other workshops</h2>
        <p class="text-pretty">
          What your jobs found goes out as an open file, without their owners. What others found is taken in as theirs:
          it is marked, and weighs less than your own.
        </p>
        <label class="mt-2 flex items-center gap-2"
          ><input type="checkbox" bind:checked={complaints} />with the complaints as they were written</label
        >
        <div class="mt-2 flex flex-wrap gap-2">
          <Button
            size="sm"
            color="alternative"
            href={api.modelExperience(view.id, complaints ? {} : { complaints: 'out' })}
            download>Of this model</Button
          >
          <Button size="sm" color="alternative" href={api.experience(complaints ? {} : { complaints: 'out' })} download
            >Of all models</Button
          >
          <FileButton accept=".json" onfile={(file) => void borrow(file)}>Take another's in</FileButton>
        </div>
        {#if view.lenders.length > 0}
          <ul class="mt-2" aria-label="Taken in">
            {#each view.lenders as l (l.whose)}
              <li class="flex flex-wrap items-center gap-2 py-1">
                <span class="min-w-0 flex-1"
                  >{l.whose}: {counted(l.jobs, 'job')}{#if !view.page.whose.some((w) => w.whose === l.whose)}, none of
                    this model{/if}</span
                >
                <Button size="xs" color="alternative" onclick={() => void giveBack(l.whose)}>Take it out</Button>
              </li>
            {/each}
          </ul>
        {/if}
      </section>
    </div>
  </Page>
{/if}

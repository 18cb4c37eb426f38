<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { link, push } from 'svelte-spa-router';
  import { api, told } from '../api/client';
  import type { ShelfJob } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import FileButton from '../shared/FileButton.svelte';
  import Key from '../shared/Key.svelte';
  import Page from '../shared/Page.svelte';
  import { day } from '../shared/format';
  import MiniChart from './MiniChart.svelte';

  let jobs = $state.raw<ShelfJob[] | null>(null);
  let trouble = $state('');
  let list: HTMLElement | undefined = $state();

  const groups = $derived([
    { title: 'On the bench', jobs: (jobs ?? []).filter((j) => j.finished === null) },
    { title: 'Finished', jobs: (jobs ?? []).filter((j) => j.finished !== null) },
  ]);

  async function load() {
    try {
      jobs = (await api.shelf()).jobs;
      trouble = '';
    } catch (error) {
      trouble = told(error);
    }
  }
  $effect(() => void load());

  async function take(file: File) {
    try {
      const { number } = await api.importJob(file);
      await push(`/jobs/${number}`);
    } catch (error) {
      trouble = `${file.name}: ${told(error)}`;
    }
  }
  function move(by: number) {
    const links = [...(list?.querySelectorAll<HTMLElement>('a[data-job]') ?? [])];
    const at = links.findIndex((a) => a === document.activeElement);
    links[Math.min(Math.max(at + by, 0), links.length - 1)]?.focus();
  }
  const commands = declare({
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the jobs; Enter opens one',
      act: (key) => move(key === 'ArrowDown' ? 1 : -1),
    },
    new: { keys: ['n'], title: 'a new job', act: () => push('/jobs/new') },
  });
  function stands(job: ShelfJob): string {
    if (job.finished) return job.headline;
    if (job.readings === 0) return 'Untouched. ' + job.headline;
    return job.headline;
  }
</script>

<svelte:window onfocus={() => void load()} />

<Page title="Step Trace" here="Shelf" {commands}>
  {#snippet actions()}
    <FileButton accept=".json,application/json" onfile={take}>Take in a job file</FileButton>
    <Button href="#/jobs/new">New job <Key of="new" /></Button>
  {/snippet}
  <div class="px-[18px] py-4" bind:this={list}>
    {#if trouble}<p class="border-fault text-fault mb-3 border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
    {#if jobs !== null && jobs.length === 0}
      <p class="text-say font-semibold">The shelf is empty.</p>
      <p class="mt-2">
        Make a <a use:link href="/sheets" class="text-measured underline">service sheet</a> for the set first, then open a
        job with the owner's complaint.
      </p>
    {/if}
    {#each groups as group (group.title)}
      {#if group.jobs.length > 0}
        <h2 class="lead mt-2 mb-1 first:mt-0">{group.title}</h2>
        <ul class="border-line bg-panel mb-5 border-y">
          {#each group.jobs as job (job.number)}
            <li class="border-rule border-t first:border-0">
              <a
                use:link
                href="/jobs/{job.number}"
                data-job={job.number}
                class="hover:bg-ground grid items-center gap-x-5 gap-y-1 px-4 py-3 sm:grid-cols-[64px_minmax(0,1fr)_auto]"
              >
                <span class="figure text-say text-soft font-semibold">{job.number}</span>
                <span class="min-w-0">
                  <span class="block truncate"
                    ><b class="text-name">{job.set}</b>
                    <span class="text-soft">{job.kind}, in on {day(job.opened)}</span></span
                  >
                  <span class="block">“{job.complaint}”</span>
                  <span
                    class={['block', job.state === 'named' && !job.finished ? 'text-fault font-semibold' : 'text-soft']}
                    >{stands(job)}</span
                  >
                </span>
                <span class="flex flex-col items-end">
                  <MiniChart points={job.points} />
                  <span class="text-small text-soft"
                    >{job.readings === 1 ? '1 reading' : `${job.readings} readings`}</span
                  >
                </span>
              </a>
            </li>
          {/each}
        </ul>
      {/if}
    {/each}
  </div>
</Page>

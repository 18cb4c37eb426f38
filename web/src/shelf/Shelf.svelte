<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { link, push } from 'svelte-spa-router';
  import { api, told } from '../api/client';
  import type { CopiesView, Shelf, ShelfJob } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import FileButton from '../shared/FileButton.svelte';
  import { day } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import Page from '../shared/Page.svelte';
  import { Paged } from '../shared/paged.svelte';
  import Search from '../shared/Search.svelte';
  import ShopDialog from '../handback/ShopDialog.svelte';
  import DrawerDialog from '../replace/DrawerDialog.svelte';
  import { me } from '../shared/me.svelte';
  import { practice } from '../practise/practising';
  import CopiesDialog from './CopiesDialog.svelte';
  import DoorDialog from './DoorDialog.svelte';
  import Begin from './Begin.svelte';
  import MiniChart from './MiniChart.svelte';

  let place = $state(''); // alone; empty: all
  let field: HTMLInputElement | undefined = $state();
  let list: HTMLElement | undefined = $state();
  let refused = $state('');
  let shop = $state(false);
  let drawer = $state(false);
  let copying = $state(false);
  let door = $state(false);
  let copies: CopiesView | undefined = $state();
  api.copies().then(
    (view) => (copies = view),
    () => undefined, // that the program does not answer is told by the list
  );

  const jobs = new Paged<Shelf, ShelfJob>(
    (query) => api.shelf({ ...query, place }),
    (shelf) => ({ rows: shelf.jobs, more: shelf.more }),
  );
  $effect(() => {
    void place;
    void jobs.load();
  });

  const counts = $derived(jobs.answer ?? { bench: 0, waiting: 0, finished: 0 });
  const total = $derived(counts.bench + counts.waiting + counts.finished);
  const places = $derived([
    { key: '', title: 'All', count: total },
    { key: 'bench', title: 'On the bench', count: counts.bench },
    { key: 'waiting', title: 'Waiting', count: counts.waiting },
    { key: 'finished', title: 'Finished', count: counts.finished },
  ]);
  const at = (job: ShelfJob) => (job.finished ? 'finished' : job.waiting ? 'waiting' : 'bench');
  const groups = $derived(
    places.slice(1).map((p) => ({ title: p.title, jobs: jobs.rows.filter((job) => at(job) === p.key) })),
  );

  async function take(file: File) {
    try {
      const { number } = await api.importJob(file);
      await push(`/jobs/${number}`);
    } catch (error) {
      refused = `${file.name}: ${told(error)}`;
    }
  }
  function move(by: number) {
    const links = [...(list?.querySelectorAll<HTMLElement>('a[data-day], a[data-job]') ?? [])];
    const from = links.findIndex((a) => a === document.activeElement);
    links[Math.min(Math.max(from + by, 0), links.length - 1)]?.focus();
  }
  const commands = declare({
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the jobs; Enter opens one',
      act: (key) => move(key === 'ArrowDown' ? 1 : -1),
    },
    search: {
      keys: ['/'],
      title: 'search by number, set, complaint, part or outcome; Esc clears it',
      act: () => field?.focus(),
    },
    place: {
      keys: ['f'],
      title: 'all, on the bench, waiting, finished',
      act: () => (place = places[(places.findIndex((p) => p.key === place) + 1) % places.length]?.key ?? ''),
    },
    new: { keys: ['n'], title: 'a new job', act: () => push('/jobs/new') },
    shop: { keys: ['w'], title: 'the workshop: head, rate, what is usual, warranty', act: () => (shop = true) },
    copies: { keys: ['c'], title: 'copies of all data', act: () => (copying = copies !== undefined) },
    door: { keys: ['i'], title: 'who is let in from the network', act: () => (door = me.view?.here ?? false) },
    practise: { keys: ['p'], title: 'practise on simulated sets', act: () => location.assign(practice) },
    drawer: { keys: ['s'], title: 'what lies in the drawer', act: () => (drawer = true) },
  });
  function stands(job: ShelfJob): string {
    return !job.finished && job.readings === 0 ? `Untouched. ${job.headline}` : job.headline;
  }
</script>

<svelte:window onfocus={() => void jobs.again()} />

<Page title="Step Trace" here="Shelf" {commands}>
  {#snippet actions()}
    <Button color="alternative" onclick={() => (shop = true)}><Key of="shop" />The workshop</Button>
    <Button color="alternative" onclick={() => (drawer = true)}><Key of="drawer" />The drawer</Button>
    <Button color="alternative" href={practice}><Key of="practise" />Practise</Button>
    <FileButton accept=".json,application/json" onfile={take}>Take in a job file</FileButton>
    <Button href="#/jobs/new">New job <Key of="new" /></Button>
  {/snippet}
  <div class="px-[18px] py-3" bind:this={list}>
    <div class="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
      <div class="min-w-0 flex-1 basis-72">
        <Search
          label="Number, set, complaint, part or outcome"
          words={jobs.words}
          onsearch={(w) => jobs.search(w)}
          bind:field
        />
      </div>
      <div class="flex flex-wrap items-center gap-1.5" role="group" aria-label="Where they stand">
        {#each places as p (p.key)}
          <button
            type="button"
            class={['h-10 rounded-md border-2 px-2.5', place === p.key ? 'border-ink font-semibold' : 'border-line']}
            aria-pressed={place === p.key}
            onclick={() => (place = p.key)}
            >{p.title}
            {#if jobs.answer}<span class="figure text-soft">{p.count}</span>{/if}</button
          >
        {/each}
        <Key of="place" />
      </div>
    </div>
    {#if refused || jobs.trouble}
      <p class="border-fault text-fault mb-3 border-l-4 pl-3 font-semibold" role="alert">{refused || jobs.trouble}</p>
    {/if}
    {#if jobs.answer && jobs.rows.length === 0}
      {#if jobs.words.trim()}
        <p class="text-say font-semibold">Nothing on the shelf has “{jobs.words.trim()}”.</p>
        <p class="mt-2">Words are found by how they begin, in any order. Esc clears the search.</p>
      {:else if place}
        <p class="text-say font-semibold">No job stands there.</p>
      {:else}
        <div class="mx-auto max-w-2xl py-4">
          <ol class="mb-5 list-decimal space-y-1 pl-6 text-lg">
            <li>Say what the set is, in your own words: no manual is needed.</li>
            <li>Say what is wrong. What to try first is proposed at once.</li>
            <li>Type what you read, hear or see; Step Trace says what it means, and what to try next.</li>
          </ol>
          <Begin />
        </div>
      {/if}
    {/if}
    {#if copies?.loud}
      <p
        class="border-fault text-fault mb-3 flex flex-wrap items-center gap-2 border-l-4 pl-3 font-semibold"
        role="alert"
      >
        {copies.says}
        <Button size="xs" color="alternative" onclick={() => (copying = true)}><Key of="copies" />Copies</Button>
      </p>
    {/if}
    {#if (jobs.answer?.day.length ?? 0) > 0}
      <h2 class="lead mb-1">Today</h2>
      <ul class="mb-4" aria-label="Today">
        {#each jobs.answer?.day ?? [] as line, i (i)}
          <li>
            <a
              use:link
              href={line.what === 'limit'
                ? `/jobs/${line.number.toString()}/worth`
                : line.what === 'soak'
                  ? `/jobs/${String(line.number)}/prove`
                  : line.what === 'ready'
                    ? `/jobs/${String(line.number)}/handback`
                    : line.what === 'waits'
                      ? `/jobs/${String(line.number)}/waiting`
                      : `/jobs/${String(line.number)}`}
              data-day={line.number}
              class={[
                'hover:bg-panel flex flex-wrap items-baseline gap-x-2 border-l-4 py-1 pl-3',
                line.late ? 'border-fault' : 'border-line',
              ]}
              ><span class="figure text-soft">{line.number}</span> <b>{line.set}</b>
              <span class={line.late ? 'text-fault font-semibold' : ''}>{line.text}</span></a
            >
          </li>
        {/each}
      </ul>
    {/if}
    {#each groups as group (group.title)}
      {#if group.jobs.length > 0}
        <h2 class="lead mt-2 mb-1 first:mt-0">{group.title}</h2>
        <ul class="border-line bg-panel mb-5 border-y" aria-label={group.title}>
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
                  {#if job.waiting}
                    <span class={['block font-semibold', job.late && 'text-fault']}
                      >{job.late ? '▲ ' : ''}Waits for {job.waiting}</span
                    >
                  {/if}
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
    {#if jobs.more}
      <p class="pb-4 text-center">
        <Button color="alternative" onclick={() => void jobs.next()}>More</Button>
      </p>
    {/if}
    {#if copies && !copies.loud}
      <p class="text-small text-soft pb-2">
        <button type="button" class="underline" onclick={() => (copying = true)}>{copies.says}</button>
        <Key of="copies" />
        {#if me.view?.here}
          <span aria-hidden="true">·</span>
          <button type="button" class="underline" onclick={() => (door = true)}
            >{me.view.open ? 'Who is let in' : 'Only this computer is served'}</button
          >
          <Key of="door" />
        {/if}
      </p>
    {/if}
  </div>
</Page>
{#if shop}<ShopDialog bind:open={shop} onkept={() => jobs.load()} />{/if}
{#if drawer}<DrawerDialog bind:open={drawer} onchanged={() => undefined} />{/if}
{#if door}<DoorDialog bind:open={door} />{/if}
{#if copying && copies}<CopiesDialog
    bind:open={copying}
    view={copies}
    onchanged={(view) => (copies = view)}
    ontaken={() => void jobs.load()}
  />{/if}

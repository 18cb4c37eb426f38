<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { link, push } from 'svelte-spa-router';
  import { api } from '../api/client';
  import type { JobView } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import { Kept } from '../shared/kept.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import { Drilled } from './drilled.svelte';
  import Compared from './Compared.svelte';
  import Replay from './Replay.svelte';
  import { clock } from './words';

  let { params }: { params: { number: string } } = $props();

  const number = $derived(Number(params.number));
  const job = $derived(new Kept<JobView>(() => api.job(number)));
  const drilled = $derived(new Drilled(number));
  $effect(() => void job.load());
  $effect(() => void drilled.load());

  const view = $derived(drilled.view);
  const review = $derived(view?.review ?? null);
  const commands = declare({
    end: {
      keys: ['e'],
      title: 'end it, and see what it came to',
      when: () => view?.ended === false,
      act: async () => {
        await drilled.drill('end');
        await job.load();
      },
    },
    along: {
      keys: ['ArrowLeft', 'ArrowRight'],
      shown: '← →',
      title: 'the readings once more, one by one',
      when: () => taken.length > 0,
      act: (key) => go(at + (key === 'ArrowLeft' ? -1 : 1)),
    },
    another: { keys: ['n'], title: 'another set', act: () => push('/') },
  });
  const taken = $derived(review?.taken ?? []);
  let gone: number | null = $state(null); // to which reading
  const at = $derived(gone ?? Math.max(review?.costliest ?? 0, 0));
  function go(to: number) {
    gone = Math.min(Math.max(to, 0), taken.length - 1);
  }
  let who = $state('');
  const bad = (verdict: string) => !['', 'within', 'unjudged'].includes(verdict);
</script>

{#if job.missing}
  <Nowhere title="This case cannot be shown" text={job.missing} />
{:else if job.view}
  <JobFrame head={job.view} here="Review" {commands} again={() => void job.load()}>
    <main class="grid min-h-0 grid-cols-[minmax(0,1fr)] content-start gap-4 overflow-y-auto p-[12px_18px]">
      {#if drilled.trouble || drilled.missing}
        <p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">
          {drilled.trouble || drilled.missing}
        </p>
      {/if}
      {#if view && !review}
        <p class="text-say font-semibold">It is still being worked on.</p>
        <p>What was wrong, and how it went beside the best way, is told once it has ended.</p>
        <p>
          <Button onclick={() => void commands.end.act()}>End it, and see what it came to <Key of="end" /></Button>
        </p>
      {:else if review}
        <section>
          <h2 class="lead">What was wrong</h2>
          <ul class="mt-1">
            {#each review.wrong as wrong, i (wrong)}
              <li class="text-say font-semibold" data-test="wrong">
                {wrong.slice(0, 1).toUpperCase() + wrong.slice(1)}:
                <span class={review.found[i] ? 'text-expect' : 'text-fault'}
                  >{review.found[i] ? 'found, and put right' : 'not put right'}</span
                >
              </li>
            {/each}
            {#if review.manual}<li>In the manual, {review.manual}.</li>{/if}
            {#each review.worn as worn (worn)}
              <li class="text-soft" data-test="worn">
                {worn.slice(0, 1).toUpperCase() + worn.slice(1)}: off, and not why it came.
              </li>
            {/each}
          </ul>
          {#each review.says as line, i (i)}<p class="max-w-prose text-pretty">{line}</p>{/each}
          <div class="mt-2 flex flex-wrap items-center gap-2">
            <Button size="sm" onclick={() => void push('/')}>Another set <Key of="another" /></Button>
            <Button size="sm" color="alternative" href={api.caseFile(number)} download>Hand it on, sealed</Button>
            <label class="flex items-center gap-2"
              ><span class="text-soft">Your name, for a teacher</span><input
                class="border-line bg-panel w-36 rounded-md border-2 px-2 py-1"
                bind:value={who}
              /></label
            >
            {#if who.trim() !== ''}
              <Button size="sm" color="alternative" href={api.resultFile(number, { who })} download
                >Save the result</Button
              >
            {/if}
          </div>
        </section>
        <Compared {review} />
        <Replay {number} {taken} {at} ongo={go} />
        <section class="min-w-0">
          <h2 class="lead">Each reading, beside the best there was</h2>
          <ol class="mt-1" aria-label="Readings">
            {#each review.taken as t, i (t.id)}
              <li
                class={[
                  'border-rule grid grid-cols-[64px_minmax(0,1fr)_minmax(0,1.4fr)] items-baseline gap-2 border-t py-1 first:border-0',
                  i === review.costliest && 'bg-wash',
                  i === at ? 'here' : '',
                ]}
              >
                <button
                  type="button"
                  class="figure text-soft text-small text-left underline decoration-dotted"
                  aria-label="Show how it stood at {clock(t.by)}"
                  onclick={() => go(i)}>{clock(t.by)}</button
                >
                <span class="min-w-0"
                  ><span class="figure">{t.point}</span>
                  <span class={['figure', bad(t.verdict) && 'text-fault font-semibold']}>{t.reads}</span>
                  {#if t.verdict && t.verdict !== 'unjudged'}<span class="text-soft text-small">{t.verdict}</span
                    >{/if}</span
                >
                <span class="min-w-0 text-pretty">
                  {#if t.was}<b class="text-fault">Read off wrongly: it showed {t.was}.</b>{/if}
                  {#if t.costly}
                    <b class={i === review.costliest ? 'text-fault' : ''}>{clock(t.lost)} lost.</b>
                    {t.best}: {t.why}.
                  {:else if t.nothing}
                    <span class="text-soft">It could tell nothing new.</span>
                  {:else if t.weighed}
                    <span class="text-expect">As good as the best.</span>
                  {/if}
                </span>
              </li>
            {:else}
              <li class="text-soft">Nothing was read.</li>
            {/each}
          </ol>
        </section>
        {#if review.done.length > 0}
          <section>
            <h2 class="lead">What was done to it</h2>
            <ul class="mt-1 space-y-1">
              {#each review.done as d, i (i)}
                <li>
                  <b>{d.says.slice(0, 1).toUpperCase() + d.says.slice(1)}</b>:
                  <span class={['font-semibold', d.right ? 'text-expect' : d.worn ? 'text-soft' : 'text-fault']}
                    >{d.right ? 'right' : d.worn ? 'off, and not why it came' : 'nothing was wrong with it'}</span
                  >{#if d.missing.length > 0}; not shown by then: {d.missing.join('; ')}{/if}
                </li>
              {/each}
            </ul>
          </section>
        {/if}
        {#if review.stopped.length > 0}
          <section>
            <h2 class="lead">Stopped before something unsafe</h2>
            <ul class="mt-1 space-y-1">
              {#each review.stopped as s (s.at)}
                <li class="border-hazard border-l-4 pl-3"><b>{s.what}</b>. {s.would}</li>
              {/each}
            </ul>
          </section>
        {/if}
        <section>
          <h2 class="lead">The program's own way, from the same complaint</h2>
          {#each review.best as path (path.ends + path.minutes)}
            <ol class="mt-1 list-decimal pl-6">
              {#each path.steps as step, i (i)}
                <li>
                  {step.does}
                  {#if step.reads}<span class="text-soft">It reads</span>
                    <span class="figure">{step.reads}</span>.{/if}
                </li>
              {/each}
            </ol>
            <p class="text-soft">
              {path.ends
                ? `It ends at ${path.ends}`
                : `What is left, the likeliest first: ${(path.left ?? []).join(', ')}`}.
            </p>
          {/each}
        </section>
        <p><a use:link href="/jobs/{number.toString()}" class="underline">Back to the bench</a></p>
      {/if}
    </main>
  </JobFrame>
{/if}

<style>
  .here {
    box-shadow: -6px 0 0 var(--measured);
  }
</style>

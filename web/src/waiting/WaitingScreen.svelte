<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'waiting',
    key: 'w',
    aside: true,
    name: 'Waiting',
    order: 800,
    route: '/jobs/:number/waiting',
  };
</script>

<script lang="ts">
  import { Button, Input } from 'flowbite-svelte';
  import { link } from 'svelte-spa-router';
  import { api, now } from '../api/client';
  import type { NotedWait, WaitEntry, WaitsView } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import { Entry } from '../shared/entry';
  import { day } from '../shared/format';
  import { Kept } from '../shared/kept.svelte';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';

  let { params }: { params: { number: string } } = $props();

  const number = $derived(Number(params.number));
  const kept = new Kept<WaitsView>(() => api.waits(number));
  const view = $derived(kept.view);
  const entry = new Entry();
  const over = new Entry();
  let what = $state('');
  let until = $state('');
  let reason = $state<WaitsView['fors'][number]>('part');
  let how = $state('');
  let field: HTMLInputElement | undefined = $state();

  const standing = $derived(view?.waits.filter((w) => w.standing) ?? []);
  const past = $derived(view?.waits.filter((w) => !w.standing) ?? []);
  const closed = $derived(view?.finished !== null);
  const hints: Record<string, string> = {
    part: 'C212, 4700 µF 50 V, ordered',
    manual: 'circuit of the second version',
    owner: 'whether it is worth the price',
    other: 'test tape comes back',
  };

  $effect(() => void kept.load());

  const note = (by: Entry, content: Omit<WaitEntry, 'id' | 'at'>) =>
    kept
      .keep(() => api.noteWait(number, { id: by.idOf(content), at: now(), ...content }))
      .then((done) => {
        if (done) by.done();
        return done;
      });
  async function wait() {
    if (!(await note(entry, { wait: { for: reason, what, until } }))) return;
    what = until = '';
    field?.blur();
  }
  async function came(w: NotedWait | undefined) {
    if (w && (await note(over, { over: { entry: w.id, how } }))) how = '';
  }

  const commands = declare({
    write: {
      keys: ['e'],
      title: 'write down what it waits for; Enter takes it down',
      when: () => !closed,
      act: () => field?.focus(),
    },
    came: {
      keys: ['c'],
      title: 'what was waited for longest has come',
      when: () => standing.length > 0,
      act: () => came(standing[0]),
    },
  });
</script>

<svelte:window onfocus={() => void kept.load()} />

{#if kept.missing}
  <Nowhere title="This job cannot be shown" text={kept.missing} />
{:else if view}
  <JobFrame head={view} here="Waiting" {commands} again={() => void kept.load()}>
    <main class="min-w-0 p-[14px_18px] lg:overflow-y-auto">
      <div class="mx-auto flex max-w-3xl flex-col gap-3">
        <p class="text-say font-semibold text-pretty" data-test="waits">
          {standing.length === 0 && view.asked !== ''
            ? 'It waits for its owner.'
            : standing.length === 0
              ? 'It waits for nothing: it can be worked on.'
              : standing.length === 1
                ? 'It waits for one thing.'
                : `It waits for ${standing.length} things.`}
        </p>
        {#if kept.trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">
            {kept.trouble}
          </p>{/if}
        {#if view.asked !== ''}
          <p class="border-line bg-panel rounded-md border-2 px-3 py-2 text-pretty">
            {view.asked}.
            <a class="underline" use:link href="/jobs/{number}/worth">The answer is noted under Worth it</a>
          </p>
        {/if}
        {#if standing.length > 0}
          <ul aria-label="Waited for">
            {#each standing as w, i (w.id)}
              <li class="border-line bg-panel mb-2 flex flex-wrap items-center gap-3 rounded-md border-2 px-3 py-2">
                <span class={['min-w-0 flex-1 basis-64 text-pretty', w.late && 'text-fault font-semibold']}
                  >{#if w.late}<span class="mr-1.5" aria-hidden="true">▲</span>{/if}{w.says}
                  <span class="text-small text-soft block font-normal">since {day(w.at)}</span></span
                >
                <Button color="alternative" onclick={() => void came(w)}
                  >It has come {#if i === 0}<Key of="came" />{/if}</Button
                >
                {#if !closed}
                  <button
                    type="button"
                    class="text-soft hover:text-fault px-1"
                    aria-label="Strike out {w.says}"
                    onclick={() => void kept.keep(() => api.strikeWait(number, w.id, {}))}>✕</button
                  >
                {/if}
              </li>
            {/each}
          </ul>
          <label class="text-small text-soft"
            >A word on how it came<Input
              bind:value={how}
              placeholder="another make; done without; may stay empty"
            /></label
          >
        {/if}
        {#if !closed}
          <form
            class="border-line flex flex-col gap-2 border-t pt-3"
            onsubmit={(e) => {
              e.preventDefault();
              void wait();
            }}
          >
            <fieldset class="flex flex-wrap gap-x-5 gap-y-1" aria-label="What it waits for">
              {#each view.fors as f (f)}
                <label class="flex items-center gap-1.5"><input type="radio" value={f} bind:group={reason} />{f}</label>
              {/each}
            </fieldset>
            <div class="grid gap-3 sm:grid-cols-[minmax(0,1fr)_auto]">
              <label class="min-w-0"
                ><span class="flex items-center gap-2">It waits for <Key of="write" /></span>
                <input
                  bind:this={field}
                  class="border-ink bg-panel text-entry w-full rounded-lg border-2 px-3 py-1"
                  autocomplete="off"
                  enterkeyhint="done"
                  placeholder={hints[reason]}
                  bind:value={what}
                  onkeydown={(e) => {
                    if (e.key === 'Escape') e.currentTarget.blur();
                  }}
                /></label
              >
              <label>Expected on<Input type="date" class="figure mt-0.5" bind:value={until} /></label>
            </div>
            <div><Button type="submit">Set aside</Button></div>
          </form>
        {/if}
        {#if past.length > 0}
          <h2 class="lead mt-2">Before</h2>
          <ul aria-label="Waited for before">
            {#each past as w (w.id)}
              <li class={['border-rule text-soft border-t py-1 first:border-0', w.struck && 'line-through']}>
                {w.wait?.for}: {w.wait?.what}, {w.ended
                  ? `from ${day(w.at)} to ${day(w.ended)}${w.how ? `: ${w.how}` : ''}`
                  : `noted ${day(w.at)}`}
              </li>
            {/each}
          </ul>
        {/if}
      </div>
    </main>
  </JobFrame>
{/if}

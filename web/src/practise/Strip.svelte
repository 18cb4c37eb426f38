<script lang="ts">
  import { Button, Kbd } from 'flowbite-svelte';
  import { push } from 'svelte-spa-router';
  import { refused } from '../api/client';
  import type { Head } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';
  import { Drilled } from './drilled.svelte';
  import { readOff, readsOff } from './practising';
  import { clock } from './words';

  /** What marks a view as practice, with the clock, and what is done in a case besides the work. */
  let { head, again, open = $bindable(false) }: { head: Head; again: () => void; open?: boolean } = $props();

  const number = $derived(head.number);
  const drilled = $derived(new Drilled(number));
  $effect(() => {
    void head; // looked at again with whatever else is
    void drilled.load();
  });
  $effect(() => () => drilled.hush());
  $effect(() => {
    const look = () => void drilled.load();
    addEventListener(refused, look);
    return () => removeEventListener(refused, look);
  });
  const view = $derived(drilled.view);

  let signal = $state<'programme' | 'tone'>('programme');
  async function drill(what: 'wait' | 'advice' | 'end', minutes = 0) {
    if (!(await drilled.drill(what, minutes))) return;
    if (what !== 'wait') open = false;
    again();
    if (what === 'end') await push(`/jobs/${String(number)}/review`);
  }
  let own = $state(readsOff());
  function eyes() {
    readOff(!own);
    own = !own;
    again();
  }
  function onkeydown(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey || !view) return;
    const cell = view.cells[Number(event.key) - 1];
    if (event.key === 'w') void drill('wait', 15);
    else if (event.key === 'a' && view.advice === 'asked' && !view.ended) void drill('advice');
    else if (event.key === 'e') void (view.ended ? push(`/jobs/${String(number)}/review`) : drill('end'));
    else if (event.key === 'r') eyes();
    else if (event.key === 's') signal = signal === 'tone' ? 'programme' : 'tone';
    else if (cell) void drilled.listen(cell, signal);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<div
  class="border-hazard bg-ground flex flex-none flex-wrap items-center gap-x-4 gap-y-0.5 border-b-2 border-dashed px-[18px] py-0.5"
  data-test="practice-strip"
>
  <b><span class="text-hazard" aria-hidden="true">◆</span> Practice</b>
  {#if view}
    <span
      ><span class="figure font-semibold" data-test="clock">{clock(view.minutes)}</span>
      <span class="text-soft">on the clock, {view.level}, the set is {view.warm ? 'warm' : 'cold'}</span></span
    >
    {#if view.stopped > 0}
      <span class="text-fault font-semibold"
        >▲ stopped {view.stopped === 1 ? 'once' : `${String(view.stopped)} times`}</span
      >
    {/if}
    {#if view.last}
      <span data-test="step"
        ><span class="text-soft">The last reading:</span>
        {#if view.last.costly}{clock(view.last.lost)} lost; {view.last.best} would have told more
        {:else if view.last.nothing}it could tell nothing new
        {:else}as good as the best{/if}</span
      >
    {/if}
    {#if drilled.playing}<span role="status">Heard: {drilled.playing}</span>{/if}
    <button type="button" class="ml-auto underline decoration-dotted" onclick={() => (open = true)}
      ><Kbd>,</Kbd>
      {view.ended ? 'it has ended' : 'listen, wait, ask, end'}</button
    >
  {:else if drilled.missing}
    <span class="text-soft">{drilled.missing}</span>
  {/if}
</div>
{#if open && view}
  <Modal title="In this practice" bind:open size="md">
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <div {onkeydown} class="flex flex-col gap-3">
      {#if drilled.trouble}
        <p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{drilled.trouble}</p>
      {/if}
      {#if view.cells.length > 0}
        <div>
          <h3 class="lead">Listen to</h3>
          <ul class="mt-1 flex flex-wrap gap-2">
            {#each view.cells.slice(0, 9) as cell, i (`${cell.mode}|${cell.entry}|${cell.exit}`)}
              <li>
                <Button
                  size="sm"
                  color={drilled.playing === cell.says ? undefined : 'alternative'}
                  onclick={() => void drilled.listen(cell, signal)}
                  ><Kbd>{i + 1}</Kbd>{cell.says}{cell.entry ? `, from ${cell.entry}` : ''}</Button
                >
              </li>
            {/each}
          </ul>
          <p class="text-small text-soft mt-1">
            With a {signal} played in;
            <button type="button" class="underline" onclick={() => (signal = signal === 'tone' ? 'programme' : 'tone')}
              ><Kbd>s</Kbd> {signal === 'tone' ? 'a programme' : 'a tone'} instead</button
            >. The set has to be on.
          </p>
        </div>
      {/if}
      {#if view.fuses.length > 0}
        <p>
          Printed beside {view.fuses.length === 1 ? 'its fuse' : 'its fuses'}:
          {#each view.fuses as f, i (f.name)}{i > 0 ? ', ' : ''}{f.name}
            <span class="figure">{f.says}</span>{/each}.
        </p>
      {/if}
      {#if !view.ended}
        <div class="flex flex-wrap gap-2">
          <Button size="sm" color="alternative" onclick={() => void drill('wait', 15)}
            ><Kbd>w</Kbd>Let a quarter of an hour pass</Button
          >
          <Button size="sm" color="alternative" aria-pressed={own} onclick={eyes}
            ><Kbd>r</Kbd>{own ? 'Have readings taken down again' : 'Read the instruments off yourself'}</Button
          >
          {#if view.advice === 'asked'}
            <Button size="sm" color="alternative" disabled={view.told} onclick={() => void drill('advice')}
              ><Kbd>a</Kbd>Ask for advice: 3 minutes</Button
            >
          {/if}
          <Button size="sm" onclick={() => void drill('end')}
            ><Kbd class="border-current text-inherit dark:border-current dark:text-inherit">e</Kbd>End it, and see what
            it came to</Button
          >
        </div>
        {#if view.advice === 'hidden'}<p class="text-soft">Worked without advice, as it was chosen.</p>{/if}
      {:else}
        <Button size="sm" onclick={() => void push(`/jobs/${String(number)}/review`)}
          ><Kbd class="border-current text-inherit dark:border-current dark:text-inherit">e</Kbd>What it came to</Button
        >
      {/if}
    </div>
  </Modal>
{/if}

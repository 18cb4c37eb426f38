<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import Acts from '../shared/Acts.svelte';
  import type { StageProvoked } from '../api/types.gen';
  import type { Inside } from './inside.svelte';

  /** Something is done to a part or at a place on the board's picture, and the fault comes, goes, or does not care. */
  let { inside, open = $bindable() }: { inside: Inside; open: boolean } = $props();

  const view = $derived(inside.view);
  const actions = $derived(view?.actions ?? []);
  const parts = $derived(inside.looked?.parts.map((p) => p.name) ?? []);
  const done = $derived(inside.looked?.entries.filter((e) => e.provoked && !e.struck) ?? []);
  let spot = $state(untrack(() => inside.part));
  let act = $state('tap');
  let picture = $state(untrack(() => inside.view?.pictures[0] ?? ''));
  let at: { x: number; y: number } | null = $state(null);
  let wrong = $state('');

  function onpicture(event: MouseEvent) {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    at = { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
    spot ||= `place ${done.length + 1}`;
  }
  async function log(came: StageProvoked['came']) {
    const provoked: StageProvoked = { place: spot.trim(), act: act as StageProvoked['act'], came };
    if (at) Object.assign(provoked, { picture, ...at });
    if (!(await inside.note({ provoked }))) {
      wrong = inside.trouble;
      return;
    }
    wrong = '';
  }
  const outcomes = [
    { came: 'comes', name: 'The fault came' },
    { came: 'goes', name: 'It went away' },
    { came: 'nothing', name: 'Nothing changed' },
  ] as const;
</script>

<Modal title="What moves the fault" bind:open size={picture ? 'lg' : 'sm'}>
  <div class="text-ink flex flex-col gap-3">
    {#if view && picture}
      <div>
        <button
          type="button"
          class="relative mx-auto block w-fit"
          aria-label="The board: click where it was done"
          onclick={onpicture}
        >
          <img src="api/jobs/{view.number}/pictures/{picture}" alt="The board" class="max-h-[42vh] rounded-md" />
          {#each done as e (e.id)}
            {#if e.provoked?.picture === picture}
              <span
                class={[
                  'text-small absolute -translate-1/2 rounded-full border-2 px-1 font-bold',
                  e.provoked.came === 'nothing'
                    ? 'border-expect bg-panel text-expect'
                    : 'border-fault bg-panel text-fault',
                ]}
                style="left: {100 * (e.provoked.x ?? 0)}%; top: {100 * (e.provoked.y ?? 0)}%"
                title={e.says}>{e.provoked.came === 'nothing' ? '·' : '✕'} {e.provoked.place}</span
              >
            {/if}
          {/each}
          {#if at}<span
              class="border-measured absolute size-5 -translate-1/2 rounded-full border-4"
              style="left: {100 * at.x}%; top: {100 * at.y}%"
            ></span>{/if}
        </button>
        {#if view.pictures.length > 1}
          <div class="mt-1 flex gap-1 overflow-x-auto">
            {#each view.pictures as id (id)}
              <button
                type="button"
                aria-pressed={id === picture}
                aria-label="Another picture"
                onclick={() => ((picture = id), (at = null))}
                ><img
                  src="api/jobs/{view.number}/pictures/{id}/preview"
                  alt=""
                  class={['h-12 rounded-sm border-2', id === picture ? 'border-measured' : 'border-transparent']}
                /></button
              >
            {/each}
          </div>
        {/if}
      </div>
    {/if}
    <label>
      Part, or place on the board
      <Input class="mt-1" bind:value={spot} list="places" placeholder="R14, edge connector" />
      <datalist id="places"
        >{#each parts as p (p)}<option value={p}></option>{/each}</datalist
      >
    </label>
    <Acts {actions} bind:act />
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    <div class="flex flex-wrap gap-2">
      {#each outcomes as o (o.came)}
        <Button
          type="button"
          color={o.came === 'nothing' ? 'alternative' : 'primary'}
          disabled={inside.busy || spot.trim() === ''}
          onclick={() => log(o.came)}>{o.name}</Button
        >
      {/each}
    </div>
    {#if done.length > 0}
      <ul class="text-small" aria-label="Done so far">
        {#each done.toReversed() as e (e.id)}<li class="border-rule border-t py-0.5">{e.says}</li>{/each}
      </ul>
    {/if}
  </div>
</Modal>

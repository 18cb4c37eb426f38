<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Select } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import Acts from '../shared/Acts.svelte';
  import type { Bench } from './bench.svelte';

  /** Something is done at a place, and the fault comes, goes, or does not care. */
  interface Props {
    bench: Bench;
    open: boolean;
    /** What it opens with; empty: the likeliest stage. */
    at?: { place: string; act: string };
  }
  let { bench, open = $bindable(), at = { place: '', act: '' } }: Props = $props();

  const actions = $derived(bench.view?.actions ?? []);
  const outcomes = [
    { word: 'comes', name: 'The fault came' },
    { word: 'goes', name: 'It went away' },
    { word: 'nothing', name: 'Nothing changed' },
  ];
  let place = $state('');
  let act = $state('tap');
  let wrong = $state('');

  const places = $derived(bench.provokable);
  // Opens at the likeliest stage.
  $effect(() => {
    if (open) {
      untrack(() => {
        const stages = [...(bench.findings?.stages ?? [])].sort((a, b) => b.weight - a.weight);
        place = at.place || (stages[0]?.name ?? places[0] ?? '');
        if (at.act) act = at.act;
        wrong = '';
      });
    }
  });
  async function log(word: string) {
    if (await bench.provoke(place, `${act} ${word}`)) {
      open = false;
    } else {
      wrong = bench.trouble;
    }
  }
</script>

<Modal title="What moves the fault" bind:open size="sm">
  <div class="text-ink flex flex-col gap-3">
    <label>
      At
      <Select placeholder="" class="mt-1" bind:value={place}>
        {#each places as name (name)}<option value={name}>{name}</option>{/each}
      </Select>
    </label>
    <Acts {actions} bind:act />
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    <div class="flex flex-wrap gap-2">
      {#each outcomes as outcome (outcome.word)}
        <Button
          type="button"
          color={outcome.word === 'nothing' ? 'alternative' : 'primary'}
          disabled={bench.busy || place === ''}
          onclick={() => log(outcome.word)}>{outcome.name}</Button
        >
      {/each}
    </div>
  </div>
</Modal>

<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { Adjustment, AdjustStanding, AdjustView } from '../api/types.gen';
  import type { Adjusting } from './adjusting.svelte';

  /** The adjustments in the order in which they are made, how each stands, and what the circuits offer. */
  interface Props {
    it: Adjusting;
    view: AdjustView;
    closed: boolean;
    onnew: () => void;
  }
  let { it, view, closed, onnew }: Props = $props();

  let wrong = $state('');
  const set = $derived(view.adjustments.filter((a) => a.state === 'set').length);
  const tells = (a: AdjustStanding) =>
    a.state === 'set' ? (a.after?.value ?? 'set') : a.state === 'again' ? 'once more' : (a.after?.value ?? '');

  async function take(a: Adjustment) {
    try {
      await api.keepAdjustment(view.sheetId, { revision: view.revision, ...a });
      wrong = '';
    } catch (error) {
      wrong = told(error);
    }
    await it.load();
    it.choose(a.name);
  }
</script>

<h2 class="lead" data-test="count">
  {view.adjustments.length === 0 ? 'Adjustments' : `${set} of ${view.adjustments.length} set, in this order`}
</h2>
<ol class="mt-1" aria-label="Adjustments">
  {#each view.adjustments as a (a.name)}
    <li>
      <button
        type="button"
        class={[
          'border-rule flex w-full items-baseline gap-2 border-t px-1.5 py-2 text-left',
          a.name === it.at?.name && 'bg-panel font-semibold',
        ]}
        aria-pressed={a.name === it.at?.name}
        onclick={() => it.choose(a.name)}
      >
        <span class="w-4 flex-none" aria-label={a.state}>
          {#if a.state === 'set'}<svg width="13" height="11" aria-hidden="true"
              ><path d="M1 5.5l4 4.5L12 1" fill="none" class="stroke-expect" stroke-width="2" /></svg
            >{:else if a.state === 'again'}<span class="text-fault" aria-hidden="true">▲</span
            >{:else if a.name === it.at?.name}<span aria-hidden="true">▸</span>{/if}
        </span>
        <span class="min-w-0 flex-1">{a.name}</span>
        <span
          class={[
            'figure',
            a.state === 'again' || (a.after && a.after.verdict !== 'right' && a.after.verdict !== '')
              ? 'text-fault'
              : 'text-soft',
          ]}>{tells(a)}</span
        >
      </button>
    </li>
  {/each}
</ol>
{#if view.offered.length > 0 && !closed}
  <h2 class="lead mt-3">Its circuits have these trimmers too</h2>
  {#each view.offered as a (a.turn)}
    <p class="border-rule flex flex-wrap items-baseline gap-2 border-t py-1.5">
      <span class="min-w-0 flex-1 basis-40"
        >{a.turn}: {a.name}<span class="text-small text-soft block">{a.measure} {a.target}, computed</span></span
      >
      <Button size="xs" color="alternative" onclick={() => void take(a)}>Take it</Button>
    </p>
  {/each}
{/if}
{#if view.adjustments.length === 0 && !closed}
  <Button class="mt-2" size="sm" onclick={onnew}>Write the first</Button>
{/if}
{#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}

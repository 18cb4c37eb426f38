<script lang="ts">
  import { Bench } from '../bench/bench.svelte';
  import ReadingPanel from '../bench/ReadingPanel.svelte';
  import Sentence from '../bench/Sentence.svelte';
  import { follow } from '../shared/follow';

  /** Readings typed on a phone, beside the bench: what is asked for next, any other place, the line. */
  let { number }: { number: number } = $props();

  const bench = $derived(new Bench(number));
  $effect(() => {
    const at = bench;
    void at.load();
    return follow(at.number, () => void at.load());
  });
</script>

{#if bench.missing}
  <p class="text-fault font-semibold" role="alert">{bench.missing}</p>
{:else if bench.view}
  {#if bench.next}
    <p class="text-say font-semibold text-pretty" data-test="next">
      <Sentence spans={bench.next.sentence} />
    </p>
    <dl class="grid grid-cols-[max-content_1fr] gap-x-3 gap-y-0.5">
      {#each bench.next.facts as fact (fact.label)}
        {@const mind = fact.label === 'Mind'}
        <dt class={mind ? 'font-semibold' : 'text-soft'}>
          {#if mind}<span class="text-hazard" aria-hidden="true">▲</span>{/if}
          {fact.label}
        </dt>
        <dd class={mind ? 'font-semibold' : ''}>{fact.text}</dd>
      {/each}
    </dl>
  {/if}
  <label class="flex flex-col gap-1">
    <span class="text-soft">Read at</span>
    <select
      class="border-line bg-panel h-12 w-full rounded-md border-2"
      value={bench.aim}
      onchange={(event) => bench.aimFor(event.currentTarget.value)}
    >
      {#each bench.view.spots as spot (spot.name)}
        <option value={spot.name}>{spot.name}{spot.note ? `, ${spot.note}` : ''}</option>
      {/each}
    </select>
  </label>
  <div class="border-line flex max-h-[70vh] flex-col border-t">
    <ReadingPanel {bench} onstrike={() => (bench.trouble = 'Readings are struck out at the bench.')} />
  </div>
{/if}

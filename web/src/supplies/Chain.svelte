<script lang="ts">
  import type { SupplyRail } from '../api/types.gen';

  /** A rail from the wall to its load, each element with what the readings say of it. */
  let { rail, onaim }: { rail: SupplyRail; onaim: (name: string) => void } = $props();

  const marks = { '': '', good: '✓ ', suspect: '? ', faulty: '✕ ' };
</script>

<ol class="flex flex-wrap items-center gap-y-1.5" aria-label="From the wall to the load">
  {#each rail.elements as element, i (element.kind + element.name)}
    {#if i > 0}<li aria-hidden="true" class="bg-line mx-0.5 h-0.5 w-3"></li>{/if}
    <li
      class={[
        'text-small rounded-sm border px-1.5 py-0.5',
        element.standing === 'good' && 'border-expect text-soft',
        element.standing === 'suspect' && 'border-fault text-fault border-dashed',
        element.standing === 'faulty' && 'border-fault bg-wash text-fault border-2 font-bold',
        element.standing === '' && 'border-line',
      ]}
      title={element.why}
    >
      {#if element.kind === 'fuse' || element.kind === 'rail'}
        <button type="button" class="underline decoration-dotted" onclick={() => onaim(element.name)}
          >{marks[element.standing]}{element.name}</button
        >
      {:else}
        {marks[element.standing]}{element.name}
      {/if}
    </li>
  {/each}
</ol>

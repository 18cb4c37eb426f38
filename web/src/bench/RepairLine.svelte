<script lang="ts">
  import type { NotedRepair } from '../api/types.gen';
  import { moment, when } from '../shared/format';
  import type { Bench } from './bench.svelte';

  /** What was done to the set, between the readings before it and those after. */
  let { bench, repair, closed }: { bench: Bench; repair: NotedRepair; closed: boolean } = $props();
</script>

<li
  class={[
    'grid grid-cols-[50px_minmax(0,1fr)_16px] items-baseline gap-1.5 py-1',
    repair.repair && !repair.struck ? 'border-expect border-t-2' : 'border-rule border-t',
  ]}
  title={moment(repair.at)}
  data-test="repair"
>
  <span class="figure text-small text-soft">{when(repair.at)}</span>
  <span class={[repair.struck ? 'text-soft line-through' : repair.repair ? 'text-expect font-semibold' : '']}
    >{repair.says}</span
  >
  {#if !repair.struck && !closed && (repair.repair || repair.temporary)}
    <button
      type="button"
      class="text-soft hover:text-fault"
      aria-label="Strike out {repair.says}"
      onclick={() => void bench.strikeRepair(repair.id)}>✕</button
    >
  {/if}
</li>

<script lang="ts">
  import LastOnes from './LastOnes.svelte';
  import { clock } from './words';
  import type { TrainingPhaseStand, TrainingStand } from '../api/types.gen';

  /** How one stands: by what was wrong, and by the steps of the work, with the last ten of each. */
  let { stands, steps }: { stands: TrainingStand[]; steps: TrainingPhaseStand[] } = $props();
</script>

{#snippet tally(t: { of: number; right: number; last: boolean[] })}
  <td class={['figure py-0.5 pr-5 whitespace-nowrap', t.right === t.of ? 'text-expect' : 'text-fault font-semibold']}
    >{t.right} of {t.of}</td
  >
  <td class="pr-5"><LastOnes last={t.last} /></td>
{/snippet}

<section aria-label="How you stand" class="mb-5 grid gap-5">
  {#if stands.length > 0}
    <table>
      <thead>
        <tr class="text-soft text-small text-left"
          ><th class="lead">How you stand, by what was wrong</th><th class="pr-5 font-normal">found</th><th
            class="pr-5 font-normal">the last ten</th
          ><th class="pr-5 font-normal">a set took</th><th class="font-normal">the program’s readings</th></tr
        >
      </thead>
      <tbody>
        {#each stands as s (s.kind)}
          <tr class="border-rule border-t">
            <th class="pr-5 text-left font-normal">{s.kind}</th>
            {@render tally(s)}
            <td class="figure pr-5 whitespace-nowrap">{clock(s.minutes / s.of)}</td>
            <td class="figure whitespace-nowrap">{clock(s.best / s.of)}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    <p class="text-small text-soft text-pretty">
      A kind that was missed comes again after one other, where none is asked for; one that was found after 3, then 9,
      27, 81.
    </p>
  {/if}
  {#if steps.length > 0}
    <table>
      <thead>
        <tr class="text-soft text-small text-left"
          ><th class="lead">And by the step</th><th class="pr-5 font-normal">well</th><th class="font-normal"
            >the last ten</th
          ></tr
        >
      </thead>
      <tbody>
        {#each steps as s (s.phase)}
          <tr class="border-rule border-t">
            <th class="pr-5 text-left font-normal">{s.phase}</th>
            {@render tally(s)}
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</section>

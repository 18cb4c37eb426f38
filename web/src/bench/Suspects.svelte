<script lang="ts">
  import { Kbd } from 'flowbite-svelte';
  import type { Bench } from './bench.svelte';
  import { percent } from '../shared/format';

  let { bench, onmap }: { bench: Bench; onmap: () => void } = $props();

  const findings = $derived(bench.findings);
  const suspects = $derived(
    (findings?.stages ?? [])
      .filter((s) => s.standing === 'suspect' || s.standing === 'faulty')
      .sort((a, b) => b.weight - a.weight), // the likeliest on top; of equals in the order of the route
  );
  const cleared = $derived((findings?.stages ?? []).filter((s) => s.standing === 'cleared').map((s) => s.name));
  let shown: string | null = $state(null); // the stage whose reasons are open; null: the likeliest
  const open = $derived(suspects.some((s) => s.name === shown) ? shown : (suspects[0]?.name ?? null));

  const factor = (times: number) => `×${times < 9.95 ? times.toFixed(1) : Math.round(Math.min(times, 9999))}`;
</script>

<section class="flex min-h-0 min-w-0 flex-col p-[14px_18px]">
  <h2 class="lead">
    {findings?.state === 'named' ? 'At fault' : `Suspects${suspects.length > 0 ? `, ${suspects.length}` : ''}`}
  </h2>
  <ul class="mt-1 min-h-0 flex-1 overflow-y-auto" aria-label="Suspects">
    {#each suspects as stage (stage.name)}
      <li class="border-rule grid grid-cols-[46px_1fr] gap-x-2.5 border-t py-1 first:border-0">
        <span class="figure text-weight font-semibold" aria-label="{percent(stage.weight)} in the hundred"
          >{percent(stage.weight)}</span
        >
        <div class="min-w-0">
          <button
            type="button"
            class="text-left hover:underline"
            aria-expanded={stage.name === open}
            onclick={() => (shown = stage.name)}>{stage.name}</button
          >
          <span class="text-small text-soft block">{stage.reasons.join('; ')}</span>
          {#if stage.name === open}
            {#each stage.speaks as speak, i (i)}
              <span class="text-small grid grid-cols-[84px_1fr] gap-x-1.5" data-test="speaks">
                <span
                  class={['whitespace-nowrap', speak.for ? 'text-fault font-semibold' : 'text-expect font-semibold']}
                  >{speak.for ? 'for' : 'against'} <span class="figure">{factor(speak.times)}</span></span
                >
                <span>{speak.text}</span>
              </span>
            {/each}
          {/if}
        </div>
      </li>
    {:else}
      <li class="text-soft py-1">No stage of this route is suspect.</li>
    {/each}
    {#if cleared.length > 0}
      <li class="border-rule text-small text-soft border-t pt-1.5">
        <span class="text-expect font-semibold">✓ Cleared:</span>
        {cleared.join(', ')}
      </li>
    {/if}
  </ul>
  <!-- A set of one route has no more to show than the step chart. -->
  {#if (bench.view?.routes.length ?? 0) > 1}
    {#await import('./SetMap.svelte') then { default: SetMap }}
      {#await import('./map') then { small }}
        <button
          type="button"
          class="border-line bg-panel hover:border-ink relative mt-1 h-[84px] flex-none rounded-md border p-1"
          aria-label="The map of the whole set"
          onclick={onmap}
        >
          <SetMap stages={findings?.map ?? []} size={small} named={false} />
          <span class="absolute bottom-0.5 left-1"><Kbd>m</Kbd></span>
        </button>
      {/await}
    {/await}
  {/if}
</section>

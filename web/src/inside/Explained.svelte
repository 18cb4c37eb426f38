<script lang="ts">
  import type { StageView } from '../api/types.gen';
  import { percent, when } from '../shared/format';
  import { whats, type Inside } from './inside.svelte';

  /** What would explain the readings, and what was noted. */
  let { inside, looked, closed }: { inside: Inside; looked: StageView; closed: boolean } = $props();

  const own = $derived(looked.entries.filter((e) => !e.struck && !e.earlier));
</script>

{#if inside.ranked.length > 0 && (looked.readings.length > 0 || own.some((e) => e.check))}
  <h2 class="lead mt-3">What would explain it</h2>
  <ul aria-label="Explanations">
    {#each inside.ranked as r, i (r.says)}
      <li class="border-rule grid grid-cols-[46px_minmax(0,1fr)] gap-x-2.5 border-t py-1 first:border-0">
        <span class="figure text-weight font-semibold">{percent(r.weight)}</span>
        <div class="min-w-0">
          <button
            type="button"
            class="text-left hover:underline"
            aria-expanded={i === inside.shown}
            onclick={() => (inside.shown = i)}>{r.says}</button
          >
          {#if i > 0 && r.group === inside.ranked[0]?.group}
            <span class="text-small text-soft block">these readings cannot tell it from the first</span>
          {/if}
          {#if i === inside.shown && looked.readings.length > 0}
            <table class="text-small mt-0.5 w-full">
              <thead
                ><tr class="text-soft"
                  ><td></td><td class="text-right">read</td><td class="text-right">it would be</td></tr
                ></thead
              >
              <tbody>
                {#each looked.readings as reading, k (k)}
                  <tr
                    ><td class="truncate">{whats[reading.what].split(',')[0]} {reading.node ?? reading.part}</td>
                    <td class="figure text-measured text-right">{reading.text}</td>
                    <td class="figure text-expect text-right">{r.shows[k]}</td></tr
                  >
                {/each}
              </tbody>
            </table>
          {/if}
        </div>
      </li>
    {/each}
  </ul>
{/if}
{#each looked.diagnosis?.asIf.slice(0, 3) ?? [] as a (a.part)}
  <p class="text-small border-rule border-t py-1">
    It reads as if <b>{a.part}</b> were <b class="figure">{a.value}</b>, not {a.was}.
    {#if a.fitted}A {a.nearest} may have been fitted there: read its marking.{:else}Nearest sold: {a.nearest}.{/if}
  </p>
{/each}
{#if looked.entries.length > 0 || looked.readings.some((r) => r.bench)}
  <h2 class="lead mt-3">Noted</h2>
  <ul class="text-small" aria-label="Noted">
    {#each looked.readings.filter((r) => r.bench) as r (r.id + r.what)}
      <li class="border-rule border-t py-0.5 first:border-0">
        {whats[r.what].split(',')[0]}
        {r.node}: <b class="figure">{r.text}</b>, from the bench
      </li>
    {/each}
    {#each looked.entries.toReversed() as e (e.id)}
      <li class={['border-rule border-t py-0.5', (e.struck || e.earlier) && 'text-soft', e.struck && 'line-through']}>
        {e.says} <span class="text-soft">{when(e.at)}{e.earlier ? ', before the repair' : ''}</span>
        {#if !e.struck && !closed && !e.earlier}<button
            type="button"
            class="underline"
            aria-label="Strike out {e.says}"
            onclick={() => void inside.strike(e.id)}>strike</button
          >{/if}
      </li>
    {/each}
  </ul>
{/if}

<script lang="ts">
  import type { Comparison } from '../api/types.gen';
  import { engineering, signed } from '../shared/format';

  /** What a comparison found: the defects with their evidence and causes, or that all is well. */
  interface Props {
    comparison: Comparison | null;
    against: string;
    /** Logs a word; left out where nothing can be logged. */
    onsay?: ((word: string) => void) | undefined;
    /** Where it would be logged. */
    at: string;
  }
  let { comparison, against, onsay, at }: Props = $props();

  const gain = $derived(comparison ? `${signed(comparison.gainDB)} dB` : '');
</script>

<section aria-label="Compared">
  {#if comparison === null}
    <p class="text-soft">Not compared: {against}.</p>
  {:else}
    {#if comparison.defects.length === 0}
      <p class="text-say text-expect font-semibold">✓ as it should be, {gain}</p>
    {/if}
    {#each comparison.defects as defect, i (defect.kind)}
      <div class={['border-fault border-l-4 pl-3', i > 0 && 'mt-2']}>
        <p class={['text-fault font-semibold', i === 0 ? 'text-say' : '']}>{defect.kind}</p>
        <p>{defect.evidence}.</p>
        <p class="text-small text-soft">Usual causes: {defect.causes}.</p>
        {#if defect.reading && onsay}
          <button type="button" class="text-measured underline" onclick={() => onsay(defect.reading)}
            >log “{defect.reading}” at {at}</button
          >
        {/if}
      </div>
    {/each}
    <p class="text-small text-soft mt-1">
      Against {against}{comparison.defects.length > 0 ? `: ${gain}` : ''}{comparison.rest > 0
        ? `, ${(100 * comparison.rest).toPrecision(2)} % left when the gain is taken away`
        : ''}{comparison.shift
        ? `, ${engineering(Math.abs(comparison.shift), 's')} ${comparison.shift > 0 ? 'later' : 'earlier'}`
        : ''}.
    </p>
  {/if}
</section>

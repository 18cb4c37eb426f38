<script lang="ts">
  import type { CautionView } from '../api/types.gen';
  import { moment, when } from '../shared/format';
  import Sign from './Sign.svelte';

  /** The cautions of a set, with the one under the cursor. */
  interface Props {
    cautions: CautionView[];
    at: number;
    closed: boolean;
    /** On: it is ticked now. */
    ontick: (key: string, on: boolean) => void;
  }
  let { cautions, at, closed, ontick }: Props = $props();

  // The caution under the cursor stays in sight.
  $effect(() => document.querySelector(`[data-caution="${at}"]`)?.scrollIntoView({ block: 'nearest' }));
</script>

<ul aria-label="Cautions">
  {#each cautions as caution, i (caution.key)}
    <li
      data-caution={i}
      class={[
        'grid scroll-mb-8 grid-cols-[auto_minmax(0,1fr)_auto] items-start gap-x-3 rounded-md border-2 p-1.5',
        i === at ? 'border-ink' : 'border-transparent',
      ]}
    >
      <span class="flex flex-col gap-1"
        ><Sign code={caution.sign} />{#if caution.obey}<Sign code={caution.obey} />{/if}</span
      >
      <div class={caution.ticked ? 'text-soft' : ''}>
        <b>{caution.title}</b>
        <span class="text-small text-soft">before {caution.before === 'open' ? 'opening' : 'power'}</span>
        {#if caution.where.length > 0}<span class="text-small block font-semibold">{caution.where.join('; ')}</span
          >{/if}
        <span class="block leading-snug">{caution.do}</span>
      </div>
      <button
        type="button"
        class="border-line hover:border-ink flex h-11 min-w-24 items-center justify-center gap-1.5 rounded-md border-2 px-2"
        aria-pressed={caution.ticked !== null}
        aria-label="{caution.title}: {caution.ticked ? 'ticked' : 'not ticked'}"
        disabled={closed}
        title={caution.ticked ? moment(caution.ticked) : ''}
        onclick={() => ontick(caution.key, caution.ticked !== null)}
      >
        {#if caution.ticked}
          <svg width="16" height="14" aria-hidden="true"
            ><path d="M2 7l4 5 9-11" fill="none" class="stroke-expect" stroke-width="2.4" /></svg
          ><span class="figure text-small">{when(caution.ticked)}</span>
        {:else}
          Done
        {/if}
      </button>
    </li>
  {/each}
</ul>

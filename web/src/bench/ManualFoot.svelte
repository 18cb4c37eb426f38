<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { ChartMissed } from '../api/types.gen';

  /** What stands under something read from a manual: the lines that were not understood, and what takes it over. */
  interface Props {
    missed: ChartMissed[];
    wrong: string;
    /** How much there is to take over; empty: nothing yet. */
    says: string;
    ready: boolean;
    onclose: () => void;
  }
  let { missed, wrong, says, ready, onclose }: Props = $props();
</script>

{#each missed as m, i (i)}
  <p class="text-small">Line {m.line}, <span class="figure">{m.text}</span>: {m.why}.</p>
{/each}
{#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
<div class="flex flex-wrap items-center justify-end gap-3">
  {#if says}<span class="text-soft mr-auto">{says}</span>{/if}
  <Button color="alternative" type="button" onclick={onclose}>Cancel</Button>
  <Button type="submit" disabled={!ready}>Take them over</Button>
</div>

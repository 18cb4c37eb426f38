<script lang="ts">
  import { practising } from '../practise/practising';
  import type { Bench } from './bench.svelte';

  /** What is shown, in practice, to be read off by whoever works. */
  let { bench }: { bench: Bench } = $props();
  const face = practising ? import('../practise/Face.svelte') : null;
</script>

{#if face && bench.face}
  {#await face then it}<it.default face={bench.face} />{/await}
{/if}

<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = { id: 'prove', key: '9', name: 'Prove', order: 85, route: '/jobs/:number/prove/:part?' };
</script>

<script lang="ts">
  import Closing from './Closing.svelte';
  import Soak from './Soak.svelte';

  /** Proving has two parts: the long run, and what is measured and tried at the very end. */
  let { params }: { params: { number: string; part?: string } } = $props();
</script>

{#if params.part === 'closing'}
  <Closing number={Number(params.number)} />
{:else}
  <Soak number={Number(params.number)} />
{/if}

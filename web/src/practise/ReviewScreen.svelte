<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'review',
    key: 'x',
    name: 'Review',
    order: 99,
    route: '/jobs/:number/review',
    practice: true,
  };
</script>

<script lang="ts">
  let { params }: { params: { number: string } } = $props();

  const review = import('./Review.svelte'); // it comes when it is asked for: the first page is small
</script>

{#await review then it}
  <it.default {params} />
{/await}

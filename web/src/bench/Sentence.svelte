<script lang="ts">
  import type { Span } from '../api/types.gen';

  /** What to read next, in a sentence; where and how much stand out, and are not broken. */
  let { spans }: { spans: Span[] } = $props();
</script>

{#each spans as span, i (i)}<span
    class={[span.mark !== '' && 'text-measured whitespace-nowrap', span.mark === 'value' && 'figure']}>{span.text}</span
  >{/each}

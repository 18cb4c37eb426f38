<script lang="ts">
  /** Who noted something, beside it. */
  let { who }: { who: string | undefined } = $props();
</script>

{#if who}<span class="text-soft block truncate" title="noted by {who}">{who}</span>{/if}

<script lang="ts">
  import { drawings } from './drawings';

  /** A small drawing of what is noticed. */
  let { of, screen }: { of: string; screen: boolean } = $props();
</script>

<svg viewBox="0 0 56 40" width="56" height="40" fill="none" class="stroke-ink" stroke-width="1.4" aria-hidden="true">
  {#if screen}<rect x="5" y="3" width="46" height="34" rx="6" stroke-width="2" />{/if}
  <!-- eslint-disable-next-line svelte/no-at-html-tags -- our own drawings, from the module beside this -->
  {@html drawings[of] ?? ''}
</svg>

<style>
  svg :global(.f) {
    fill: var(--ink);
    stroke: none;
  }
  /* Dark whatever the page is. */
  svg :global(.night) {
    fill: #0b1110;
    stroke: none;
  }
  svg :global(.soft) {
    opacity: 0.45;
  }
  svg :global(text) {
    fill: var(--ink);
    stroke: none;
    font-size: 18px;
    font-weight: 700;
    text-anchor: middle;
  }
</style>

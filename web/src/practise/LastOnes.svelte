<script lang="ts">
  /** The last ones of a kind, in order: whole where they were right, hatched where not. */
  let { last }: { last: boolean[] } = $props();
</script>

<span
  class="flex h-3 items-center gap-1"
  role="img"
  aria-label="The last: {last.map((ok) => (ok ? 'right' : 'not')).join(', ')}"
>
  {#each last as ok, i (i)}<span class={['block h-1.5 w-4 rounded-full', ok ? 'bg-expect' : 'hatch']}></span>{/each}
</span>

<style>
  .hatch {
    background: repeating-linear-gradient(135deg, var(--fault) 0 2px, transparent 2px 4px);
  }
</style>

<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A stretch that scrolls by itself on a wide screen, with a sign at its foot while more lies below. */
  let {
    children,
    class: style = '',
    on = 'ground',
  }: { children: Snippet; class?: string; on?: 'ground' | 'panel' } = $props();

  let outer: HTMLElement | undefined = $state();
  let inner: HTMLElement | undefined = $state();
  let below = $state(false);

  const spare = 6; // pixels that are no line of text
  function look() {
    if (outer) below = outer.scrollHeight - outer.clientHeight - outer.scrollTop > spare;
  }
  $effect(() => {
    if (!outer || !inner) return;
    const watch = new ResizeObserver(() => requestAnimationFrame(look));
    watch.observe(outer);
    watch.observe(inner);
    look();
    return () => watch.disconnect();
  });
</script>

<div class="relative flex min-h-0 min-w-0 flex-1 flex-col">
  <div bind:this={outer} class={['min-h-0 flex-1 scroll-pb-10 lg:overflow-y-auto', style]} onscroll={look}>
    <div bind:this={inner}>{@render children()}</div>
  </div>
  {#if below}
    <!-- What shows through it can be clicked still; only its words are in the way. -->
    <div
      class={[
        'pointer-events-none absolute inset-x-0 bottom-0 bg-linear-to-t from-60% to-transparent pt-4 text-center max-lg:hidden',
        on === 'panel' ? 'from-panel' : 'from-ground',
      ]}
    >
      <button
        type="button"
        class="text-measured text-small pointer-events-auto px-3 pb-0.5 font-semibold"
        data-test="more"
        tabindex="-1"
        onclick={() => outer?.scrollBy({ top: outer.clientHeight * 0.8, behavior: 'smooth' })}>more below ▾</button
      >
    </div>
  {/if}
</div>

<script lang="ts" generics="Of extends string">
  import type { Snippet } from 'svelte';

  /** A row of tabs; what each shows stands below, with whoever uses them. */
  interface Props {
    tabs: { of: Of; says: string }[];
    at: Of;
    /** Another was chosen. */
    onturn?: () => void;
    children?: Snippet;
  }
  let { tabs, at = $bindable(), onturn, children }: Props = $props();
</script>

<div class="flex flex-wrap items-baseline gap-2" role="tablist">
  {#each tabs as tab (tab.of)}
    <button
      type="button"
      role="tab"
      class={[
        'border-b-3 px-2 py-1',
        at === tab.of ? 'border-measured text-ink font-semibold' : 'text-soft border-transparent',
      ]}
      aria-selected={at === tab.of}
      onclick={() => {
        at = tab.of;
        onturn?.();
      }}>{tab.says}</button
    >
  {/each}
  {@render children?.()}
</div>

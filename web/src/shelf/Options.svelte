<script lang="ts">
  import type { PatternRow } from '../api/types.gen';

  /** In what a set differs from others of its kind, each in a line. */
  interface Props {
    pattern: PatternRow;
    chosen: Record<string, string>;
  }
  let { pattern, chosen = $bindable() }: Props = $props();
</script>

{#each pattern.options as o (o.key)}
  <label class="flex items-center gap-1.5">
    <span class="text-soft">{o.ask}</span>
    <select
      class="border-line bg-panel focus:border-measured h-9 rounded-md border-2 py-0 pr-8 pl-2 font-semibold focus:ring-0"
      value={chosen[o.key] ?? o.usual}
      onchange={(e) => (chosen = { ...chosen, [o.key]: e.currentTarget.value })}
    >
      {#each o.choices as choice (choice)}<option value={choice}>{choice}</option>{/each}
    </select>
  </label>
{/each}

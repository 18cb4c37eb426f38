<script lang="ts">
  import type { Asked } from '../api/types.gen';

  /** Whose a set is, what came with it, what was agreed: a field each, kept as it is left. */
  interface Props {
    fields: Asked[];
    /** What is being written, by field. */
    drafts: Record<string, string>;
    onkeep: (key: string) => void;
  }
  let { fields, drafts, onkeep }: Props = $props();
</script>

<div class="grid gap-x-3 gap-y-1.5 sm:grid-cols-2">
  {#each fields as field (field.key)}
    <label class="text-small text-soft min-w-0"
      >{field.name}<input
        class="border-line bg-panel text-ink block w-full rounded-md border px-2 py-0.5 text-base"
        placeholder={field.hint}
        autocomplete="off"
        bind:value={() => drafts[field.key] ?? field.text, (text: string) => (drafts[field.key] = text)}
        onblur={() => onkeep(field.key)}
        onkeydown={(e) => {
          if (e.key === 'Escape' || e.key === 'Enter') e.currentTarget.blur();
        }}
      /></label
    >
  {/each}
</div>

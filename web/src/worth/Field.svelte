<script lang="ts">
  import Key from '../shared/Key.svelte';
  import type { Worth } from './worth.svelte';

  /** An amount that is typed, and kept as it is left. */
  interface Props {
    it: Worth;
    name: 'value' | 'limit' | 'board' | 'another';
    label: string;
    key: string;
    closed: boolean;
  }
  let { it, name, label, key, closed }: Props = $props();
</script>

<label class="text-small text-soft min-w-0"
  ><span class="flex items-center gap-1.5">{label} <Key of={key} /></span><input
    class="border-line bg-panel text-ink figure block w-full rounded-md border px-2 py-0.5 text-base"
    data-field={name}
    autocomplete="off"
    inputmode="decimal"
    disabled={closed}
    bind:value={() => it.field(name), (text: string) => (it.drafts[name] = text)}
    onblur={() => void it.keep(name)}
    onkeydown={(e) => {
      if (e.key === 'Escape' || e.key === 'Enter') e.currentTarget.blur();
    }}
  /></label
>

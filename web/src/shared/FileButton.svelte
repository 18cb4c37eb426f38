<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { Snippet } from 'svelte';

  /** A button that asks for a file. */
  let { accept, onfile, children }: { accept: string; onfile: (file: File) => void; children: Snippet } = $props();

  let input: HTMLInputElement | undefined = $state();
</script>

<Button color="alternative" type="button" onclick={() => input?.click()}>{@render children()}</Button>
<input
  bind:this={input}
  type="file"
  class="hidden"
  {accept}
  onchange={(e) => {
    const file = e.currentTarget.files?.[0];
    e.currentTarget.value = ''; // the same file may be chosen again after mending it
    if (file) onfile(file);
  }}
/>

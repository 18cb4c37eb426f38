<script lang="ts">
  import { Kbd, Modal } from 'flowbite-svelte';
  import { help, type KeyHelp } from './keys.svelte';

  let { keys }: { keys: KeyHelp[] } = $props();

  const everywhere: KeyHelp[] = [
    { keys: 'g, then a number', does: 'go to the view with that number in the tray' },
    { keys: 'd', does: 'dark or light' },
    { keys: '?', does: 'this list' },
    { keys: 'Esc', does: 'leave a field or close a dialog' },
  ];
</script>

<Modal title="Keys" bind:open={help.shown} size="sm">
  <dl class="text-ink grid grid-cols-[max-content_1fr] gap-x-5 gap-y-2">
    {#each [...keys, ...everywhere] as key (key.keys)}
      <dt><Kbd>{key.keys}</Kbd></dt>
      <dd>{key.does}</dd>
    {/each}
  </dl>
</Modal>

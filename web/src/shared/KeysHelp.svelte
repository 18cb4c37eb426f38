<script lang="ts">
  import { Kbd } from 'flowbite-svelte';
  import { practising } from '../practise/practising';
  import Modal from './Modal.svelte';
  import { help, type KeyHelp } from './keys.svelte';

  /** Of says where: a job has its power state on every view. */
  let { keys, of = '' }: { keys: KeyHelp[]; of?: string } = $props();

  const job: KeyHelp[] = [
    { keys: 'o', does: 'say whether the set is on, in standby or off' },
    practising
      ? { keys: ',', does: 'in this practice: listen, wait, ask for advice, end it' }
      : { keys: ',', does: 'of a finished job: practise on a set with its fault' },
  ];
  const everywhere: KeyHelp[] = [
    { keys: 'g, then a key', does: 'go to the view that has this key in the tray' },
    { keys: '=', does: 'a sum as one speaks it: 120k || 33k; or a part: 2n3904 for bc547' },
    { keys: '!', does: 'is this part good? any part by its readings' },
    { keys: 'd', does: 'dark or light' },
    { keys: '?', does: 'this list' },
    { keys: 'Esc', does: 'leave a field or close a dialog' },
  ];
</script>

<Modal title="Keys" bind:open={help.shown} size="sm">
  <dl class="text-ink grid grid-cols-[max-content_1fr] gap-x-5 gap-y-2">
    {#each [...keys, ...(of === 'job' ? job : []), ...everywhere] as key (key.keys)}
      <dt><Kbd>{key.keys}</Kbd></dt>
      <dd>{key.does}</dd>
    {/each}
  </dl>
  <p class="text-small text-soft mt-4">
    <a href="./notices.txt" target="_blank" rel="noopener" class="underline"
      >What Step Trace is made of, and its licences</a
    >
  </p>
</Modal>

<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import Modal from './Modal.svelte';

  /** Which stages a known good unit stands in for, or a jumper bypasses. */
  interface Props {
    stages: string[];
    open: boolean;
    action: string;
    onchosen: (stages: string[]) => void;
  }
  let { stages, open = $bindable(), action, onchosen }: Props = $props();

  let chosen: string[] = $state([]);
</script>

<Modal title="A known good unit swapped in, or a jumper across" bind:open size="sm">
  <form
    class="flex flex-col gap-2"
    onsubmit={(e) => {
      e.preventDefault();
      open = false;
      if (chosen.length > 0) onchosen($state.snapshot(chosen));
      chosen = [];
    }}
  >
    <p>Which stages does it stand in for?</p>
    <div class="grid max-h-80 gap-1 overflow-y-auto sm:grid-cols-2">
      {#each stages as stage (stage)}
        <label class="flex items-center gap-2"><input type="checkbox" value={stage} bind:group={chosen} />{stage}</label
        >
      {/each}
    </div>
    <div class="flex justify-end gap-3">
      <Button color="alternative" type="button" onclick={() => (open = false)}>Cancel</Button>
      <Button type="submit">{action}</Button>
    </div>
  </form>
</Modal>

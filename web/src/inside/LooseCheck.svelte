<script lang="ts">
  import { jobOpen } from '../shared/address';
  import { checking } from '../shared/keys.svelte';
  import CheckDialog from './CheckDialog.svelte';
  import { Inside } from './inside.svelte';

  /** A part checked from anywhere, by one key; kept in the job that is open behind it, where one is. */
  let inside: Inside | null = $state.raw(null);

  $effect(() => {
    if (!checking.shown) return;
    const it = new Inside(jobOpen());
    inside = it;
    if (it.number > 0) void it.load();
  });
  function kept() {
    checking.kept++;
    checking.part = '';
    checking.given = {};
  }
</script>

{#if checking.shown && inside}
  <CheckDialog
    {inside}
    free
    bind:open={checking.shown}
    bind:typed={() => checking, (t) => Object.assign(checking, t)}
    onkept={kept}
  />
{/if}

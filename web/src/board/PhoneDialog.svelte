<script lang="ts">
  import { api, told } from '../api/client';
  import type { Invitation, PhoneView } from '../api/types.gen';
  import Invited from '../shared/Invited.svelte';
  import Modal from '../shared/Modal.svelte';

  /** A code that lets a phone in for one set; what it sends is looked for meanwhile. */
  interface Props {
    open: boolean;
    what: Invitation;
    oncame: () => void;
  }
  let { open = $bindable(), what, oncame }: Props = $props();

  let view: PhoneView | null = $state.raw(null);
  let trouble = $state('');
  const often = 3000; // ms

  $effect(() => {
    if (!open) return;
    view = null;
    trouble = '';
    api.invite(what).then(
      (v) => (view = v),
      (error: unknown) => (trouble = told(error)),
    );
    const watch = setInterval(oncame, often);
    return () => clearInterval(watch);
  });
</script>

<Modal title="A phone for this set" bind:open size="sm">
  {#if trouble}<p class="text-fault font-semibold" role="alert">{trouble}</p>{/if}
  {#if view}<Invited {view} />{/if}
</Modal>

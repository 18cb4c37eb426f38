<script lang="ts">
  import { api, told } from '../api/client';
  import type { PhoneView } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';

  /** An address with a code, to be pointed at with a phone; what it sends is looked for meanwhile. */
  let { open = $bindable(), sheet, oncame }: { open: boolean; sheet: number; oncame: () => void } = $props();

  let view: PhoneView | null = $state.raw(null);
  let trouble = $state('');
  const often = 3000; // ms

  $effect(() => {
    if (!open) return;
    view = null;
    trouble = '';
    api.invitePhone(sheet).then(
      (v) => (view = v),
      (error: unknown) => (trouble = told(error)),
    );
    const watch = setInterval(oncame, often);
    return () => clearInterval(watch);
  });
</script>

<Modal title="Pictures from a phone" bind:open size="sm">
  <div class="text-ink">
    {#if trouble}<p class="text-fault font-semibold" role="alert">{trouble}</p>{/if}
    {#if view?.says}<p data-test="phone">{view.says}</p>{/if}
    {#each view?.ways ?? [] as way (way.address)}
      <figure class="mb-3 flex flex-col items-center gap-1">
        <img src={way.qr} alt="code with the address {way.address}" class="rounded-md" width="264" height="264" />
        <figcaption class="figure text-small break-all">{way.address}</figcaption>
      </figure>
    {/each}
    {#if view && view.ways.length > 0}
      <p>Point the phone’s camera at it, or type the address there. It is good for an hour, in the same network.</p>
    {/if}
  </div>
</Modal>

<script lang="ts">
  import { Kbd } from 'flowbite-svelte';
  import Modal from './Modal.svelte';
  import { api, newId, told } from '../api/client';
  import type { Happening, Head } from '../api/types.gen';

  interface Props {
    head: Head;
    open: boolean;
    onpower: () => void;
  }
  let { head, open = $bindable(), onpower }: Props = $props();

  let trouble = $state('');
  const choices: { kind: Happening['kind']; key: string; name: string; note: string }[] = [
    { kind: 'off', key: '1', name: 'Off and unplugged', note: 'the plug is out; capacitors may still be charged' },
    { kind: 'standby', key: '2', name: 'Standby', note: 'the mains is on, the set not told to start' },
    { kind: 'on', key: '3', name: 'On', note: 'the set is told to start' },
  ];

  // A finished set is only switched off.
  const offered = $derived(head.finished === null ? choices : choices.filter((c) => c.kind === 'off'));

  async function say(kind: Happening['kind']) {
    try {
      await api.happen(
        head.number,
        { id: newId(), kind, subject: '', text: '', confirmed: false },
        { below: '', seconds: '', through: '' },
      );
      trouble = '';
      open = false;
      onpower();
    } catch (error) {
      trouble = told(error);
    }
  }
  function onkeydown(event: KeyboardEvent) {
    const choice = open ? offered.find((c) => c.key === event.key) : undefined;
    if (!choice) return;
    event.preventDefault();
    void say(choice.kind);
  }
</script>

<svelte:window {onkeydown} />

<Modal title="How does the set stand?" bind:open size="sm">
  <p>{head.power.says}</p>
  {#if head.power.open.length > 0}
    <p class="border-hazard border-l-4 pl-3">
      <b>Before it goes on</b>, not yet ticked: {head.power.open.join(', ')}.
      <a href="#/jobs/{head.number}/safe" class="text-measured underline" onclick={() => (open = false)}>Make safe</a>
    </p>
  {/if}
  {#if head.before.length > 0}
    <p class="border-hazard border-l-4 pl-3" data-test="before-power">
      <b>Before it goes on again:</b>
      {head.before.join('; ')}.
    </p>
  {/if}
  <div class="flex flex-col gap-2">
    {#each offered as choice (choice.kind)}
      <button
        type="button"
        class="border-line hover:border-ink flex items-baseline gap-3 rounded-md border-2 px-3 py-2 text-left"
        onclick={() => void say(choice.kind)}
      >
        <Kbd>{choice.key}</Kbd>
        <span><b>{choice.name}</b><span class="text-soft block">{choice.note}</span></span>
      </button>
    {/each}
  </div>
  {#if trouble}<p class="text-fault font-semibold" role="alert">{trouble}</p>{/if}
</Modal>

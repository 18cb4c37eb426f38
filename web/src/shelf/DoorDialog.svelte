<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { DoorView, PhoneView } from '../api/types.gen';
  import { when } from '../shared/format';
  import Invited from '../shared/Invited.svelte';
  import Modal from '../shared/Modal.svelte';

  /** Who is let in from the network: the words, a code to be pointed at, the devices. */
  let { open = $bindable() }: { open: boolean } = $props();

  let view: DoorView | null = $state.raw(null);
  let invited: PhoneView | null = $state.raw(null);
  let asking = $state(false); // whether all are to be sent out
  let wrong = $state('');

  async function keep(act: () => Promise<DoorView>) {
    try {
      view = await act();
      wrong = '';
    } catch (error) {
      wrong = told(error);
    }
  }
  void keep(() => api.door());

  async function invite() {
    try {
      invited = await api.invite({});
      wrong = '';
    } catch (error) {
      wrong = told(error);
    }
  }
</script>

<Modal title="Who is let in" bind:open size="md">
  <div class="text-ink flex flex-col gap-3" data-test="door">
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    {#if view}
      {#if view.open && invited}
        <Invited view={invited} />
        <div>
          <Button
            size="sm"
            color="alternative"
            onclick={() => {
              invited = null;
              void keep(() => api.door());
            }}>Done</Button
          >
        </div>
      {:else if view.open}
        {#if view.words}
          <p>
            The words, shown until the program ends:
            <b class="figure text-say block" data-test="words">{view.words}</b>
          </p>
        {:else}
          <p class="text-soft">
            The words were shown when they were made, and are kept so that nobody can read them. A code lets in without.
          </p>
        {/if}
        <div class="flex flex-wrap gap-2">
          <Button size="sm" onclick={() => void invite()}>Let a device in by a code</Button>
          <Button size="sm" color="alternative" onclick={() => (asking = true)}>Other words</Button>
        </div>
        {#if asking}
          <p class="border-hazard border-l-4 pl-3" role="alert">
            All devices are sent out and have to ask anew.
            <Button
              size="xs"
              onclick={() => {
                asking = false;
                void keep(() => api.newWords());
              }}>Make other words</Button
            >
            <Button size="xs" color="alternative" onclick={() => (asking = false)}>Leave them</Button>
          </p>
        {/if}
        {#if view.devices.length > 0}
          <ul class="max-h-56 overflow-y-auto" aria-label="Devices">
            {#each view.devices as d (d.id)}
              <li class="border-rule flex flex-wrap items-center gap-2 border-t py-1 first:border-0">
                <span class="min-w-0 flex-1 break-words"
                  ><b>{d.name}</b>
                  {d.initials}<span class="text-small text-soft block">{d.for}; seen {when(d.seen)}</span></span
                >
                <Button size="xs" color="alternative" onclick={() => void keep(() => api.sendOut(d.id))}
                  >Send out</Button
                >
              </li>
            {/each}
          </ul>
        {:else}
          <p>No device is let in.</p>
        {/if}
        <div class="text-small text-soft flex flex-col gap-1">
          <p>{view.says}</p>
          {#if view.fingerprint}<p class="figure break-all" data-test="fingerprint">{view.fingerprint}</p>{/if}
          <p class="break-all">{view.ways.join(' · ')}</p>
        </div>
      {:else}
        <p class="text-pretty">{view.says}</p>
      {/if}
    {/if}
  </div>
</Modal>

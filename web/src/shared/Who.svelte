<script lang="ts">
  import { Button, Input, Label } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import { me } from './me.svelte';
  import Modal from './Modal.svelte';

  /** The initials of who uses this device: they stand beside what is noted from it. Shown where there is more than one. */
  let open = $state(false);
  let initials = $state('');
  let wrong = $state('');

  const shown = $derived(me.view !== null && (me.view.open || me.view.initials !== ''));

  async function keep(event: SubmitEvent) {
    event.preventDefault();
    try {
      await me.call({ initials });
      open = false;
    } catch (error) {
      wrong = told(error);
    }
  }
  async function leave() {
    try {
      await api.leave();
      location.assign('/enter');
    } catch (error) {
      wrong = told(error);
    }
  }
</script>

{#if shown && me.view}
  <button
    type="button"
    class="border-line text-soft hover:text-ink rounded-md border px-2 py-0.5 whitespace-nowrap"
    title="{me.view.name}: these initials stand beside what is noted from here"
    data-test="who"
    onclick={() => {
      initials = me.view?.initials ?? '';
      wrong = '';
      open = true;
    }}>{me.view.initials || 'Who?'}</button
  >
  {#if open}
    <Modal title="Who is at {me.view.name}?" bind:open size="xs">
      <form onsubmit={keep} class="text-ink flex flex-col gap-3">
        <Label>Initials <Input bind:value={initials} maxlength={12} autofocus class="mt-1" /></Label>
        <p class="text-soft">They stand beside what is noted from here from now on.</p>
        {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
        <div class="flex flex-wrap gap-2">
          <Button type="submit" size="sm">Keep</Button>
          {#if !me.view.here}
            <Button size="sm" color="alternative" onclick={() => void leave()}>Send this device out</Button>
          {/if}
        </div>
      </form>
    </Modal>
  {/if}
{/if}

<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { CopiesView } from '../api/types.gen';
  import { moment } from '../shared/format';
  import Modal from '../shared/Modal.svelte';

  /** The copies of the database: how they stand, one now, one put back. */
  interface Props {
    open: boolean;
    view: CopiesView;
    onchanged: (view: CopiesView) => void;
  }
  let { open = $bindable(), view, onchanged }: Props = $props();

  let wrong = $state('');
  let busy = $state('');
  let chosen = $state('');

  const size = (bytes: number) => `${(bytes / 1e6).toFixed(1)} MB`;

  async function copy() {
    busy = 'Copying';
    try {
      onchanged(await api.makeCopy());
      wrong = '';
    } catch (error) {
      wrong = told(error);
    }
    busy = '';
  }
  /** The program begins anew with the copy; the page waits for it. */
  async function restore() {
    busy = 'Putting it back';
    try {
      await api.restoreCopy({ name: chosen });
      const until = Date.now() + 30_000;
      await new Promise((go) => setTimeout(go, 700));
      while (Date.now() < until) {
        try {
          await api.copies();
          location.reload();
          return;
        } catch {
          await new Promise((go) => setTimeout(go, 300));
        }
      }
      wrong = 'The program does not answer again. Start it anew; what was there is kept beside the database.';
    } catch (error) {
      wrong = told(error);
    }
    busy = '';
  }
</script>

<Modal title="Copies of all data" bind:open size="md">
  <div class="text-ink flex flex-col gap-3" data-test="copies">
    <p class={['text-pretty', view.loud && 'text-fault font-semibold']}>{view.says}</p>
    {#if view.folder !== ''}
      <p class="text-soft text-pretty">
        One a day, looked through after it is written; the last {view.keep} are kept in
        <span class="figure break-all">{view.folder}</span>. A disk of its own, or another machine, is the better place:
        name it with <span class="figure">-copies</span> when the program is started.
      </p>
    {/if}
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    {#if chosen}
      <p class="border-hazard border-l-4 pl-3 text-pretty" role="alert">
        Everything goes back to how it was on {moment(view.list.find((c) => c.name === chosen)?.at ?? '')}. What stands
        now is kept beside it, under another name.
      </p>
      <div class="flex gap-2">
        <Button size="sm" disabled={busy !== ''} onclick={() => void restore()}>{busy || 'Put it back'}</Button>
        <Button size="sm" color="alternative" disabled={busy !== ''} onclick={() => (chosen = '')}>Leave it</Button>
      </div>
    {:else}
      {#if view.list.length > 0}
        <ul class="max-h-72 overflow-y-auto" aria-label="Copies">
          {#each view.list as c (c.name)}
            <li class="border-rule flex flex-wrap items-center gap-2 border-t py-1 first:border-0">
              <span class="min-w-0 flex-1"
                >{moment(c.at)}{#if c.name.includes('upgrade')}<span class="text-soft">, before an upgrade</span
                  >{/if}</span
              >
              <span class="text-soft">{size(c.bytes)}</span>
              <Button size="xs" color="alternative" onclick={() => (chosen = c.name)}>Put it back</Button>
            </li>
          {/each}
        </ul>
      {/if}
      <div class="flex gap-2">
        <Button size="sm" disabled={busy !== '' || view.folder === ''} onclick={() => void copy()}
          >{busy || 'Copy now'}</Button
        >
        <Button size="sm" color="alternative" onclick={() => (open = false)}>Close</Button>
      </div>
    {/if}
  </div>
</Modal>

<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { CopiesView, WholeTaken } from '../api/types.gen';
  import FileButton from '../shared/FileButton.svelte';
  import { counted, moment } from '../shared/format';
  import Modal from '../shared/Modal.svelte';

  /** The copies of the database: how they stand, one now, one put back. */
  interface Props {
    open: boolean;
    view: CopiesView;
    onchanged: (view: CopiesView) => void;
    /** Jobs were taken in. */
    ontaken: () => void;
  }
  let { open = $bindable(), view, onchanged, ontaken }: Props = $props();

  let wrong = $state('');
  let busy = $state('');
  let chosen = $state('');
  let taken: WholeTaken | undefined = $state();

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
  async function take(file: File) {
    busy = 'Taking it in';
    taken = undefined;
    try {
      taken = await api.takeWhole(file);
      wrong = '';
      ontaken();
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
      <section class="border-rule border-t pt-2" aria-label="As open files">
        <h3 class="font-semibold">All of it as open files</h3>
        <p class="text-soft text-pretty">
          Jobs, sheets with their pictures, waveforms, instruments, types, the drawer, in one zip of the formats that
          are described: to read elsewhere, or to take into another workshop. What is there already stays and is not
          doubled.
        </p>
        {#if taken}
          <div role="status" data-test="taken">
            <p class="font-semibold">
              Taken in: {counted(taken.jobs, 'job')}, {counted(taken.sheets, 'sheet')}{taken.here > 0
                ? `; ${counted(taken.here, 'job')} were here already`
                : ''}.
            </p>
            {#if taken.moved.length > 0}<p>Other numbers: {taken.moved.join(', ')}.</p>{/if}
            {#each taken.refused as line (line)}<p class="text-fault">Not taken: {line}</p>{/each}
          </div>
        {/if}
        <div class="mt-2 flex flex-wrap gap-2">
          <Button size="sm" color="alternative" href={api.wholeFile()} download>Save all as files</Button>
          <FileButton accept=".zip,application/zip" onfile={take}>{busy || 'Take a workshop in'}</FileButton>
        </div>
      </section>
    {/if}
  </div>
</Modal>

<script lang="ts">
  import Files from './Files.svelte';
  import Modal from './Modal.svelte';
  import { api, newId, told } from '../api/client';

  /** Photographs: previews, and a place to drop, choose or take one. */
  interface Props {
    job: number;
    /** The strip-down step they are of, or the step of the replacing; both empty: the set as it came in. */
    step?: string;
    work?: string;
    /** Only what is there is shown, small. */
    brief?: boolean;
    ids: string[];
    closed?: boolean;
    onchange: () => void;
  }
  let { job, step = '', work = '', brief = false, ids, closed = false, onchange }: Props = $props();

  let asking: Files | undefined = $state();
  let over = $state(false);
  let sending = $state(0);
  let trouble = $state('');
  let shown = $state('');

  /** Opens the choice of a file; on a phone, the camera. */
  export function choose() {
    asking?.choose();
  }

  async function take(files: Iterable<File>) {
    trouble = '';
    for (const file of files) {
      sending++;
      try {
        await api.addPicture(job, file, { id: newId(), step, work });
      } catch (error) {
        trouble = `${file.name}: ${told(error)}`;
      } finally {
        sending--;
      }
    }
    onchange();
  }
  async function strike(id: string) {
    try {
      await api.strikePicture(job, id, {});
      shown = '';
      onchange();
    } catch (error) {
      trouble = told(error);
    }
  }
</script>

<div
  role="group"
  aria-label="Pictures"
  class={['flex flex-wrap items-center gap-1.5 rounded-md', over && 'outline-measured outline-2 outline-dashed']}
  ondragover={(e) => {
    e.preventDefault();
    over = !closed;
  }}
  ondragleave={() => (over = false)}
  ondrop={(e) => {
    e.preventDefault();
    over = false;
    if (!closed) void take(e.dataTransfer?.files ?? []);
  }}
>
  {#each ids as id (id)}
    <button type="button" onclick={() => (shown = id)} aria-label="Picture, larger">
      <img
        src={api.preview(job, id)}
        alt=""
        class="border-line {brief ? 'h-8' : 'h-14'} w-auto rounded-sm border"
        loading="lazy"
      />
    </button>
  {/each}
  {#if !closed && !brief}
    <button
      type="button"
      class="border-line text-small text-soft hover:border-ink h-9 rounded-sm border-2 border-dashed px-3"
      onclick={() => choose()}
    >
      {sending > 0 ? 'Sending…' : '+ Picture'}
    </button>
    <Files bind:this={asking} accept="image/jpeg,image/png,image/webp" test="picture" onfiles={take} />
  {/if}
  {#if trouble}<p class="text-fault basis-full font-semibold" role="alert">{trouble}</p>{/if}
</div>
{#if shown}
  <Modal title="Picture" open size="xl" onclose={() => (shown = '')}>
    <img src={api.picture(job, shown)} alt="as taken" class="mx-auto max-h-[65vh] w-auto" />
    {#if !closed}
      <button type="button" class="text-fault underline" onclick={() => void strike(shown)}
        >Take it out of the record</button
      >
    {/if}
  </Modal>
{/if}

<script lang="ts">
  import { api, now, told } from '../api/client';
  import type { Summed } from '../api/types.gen';
  import { jobOpen } from './address';
  import { Entry } from './entry';
  import { Fresh } from './fresh';
  import { sums } from './keys.svelte';
  import Modal from './Modal.svelte';

  /** A sum without a job, typed as one speaks; or whether one part goes in the place of another. */
  let answer: Summed | null = $state.raw(null);
  let trouble = $state('');
  let examples: string[] = $state.raw([]);
  let field: HTMLInputElement | undefined = $state();
  /** The job that is open behind it, which an answer can be kept in; 0 where none is. */
  let job = $state(0);
  let kept = $state('');
  const entry = new Entry();
  const fresh = new Fresh();

  $effect(() => {
    // Behind the dialog's own first field; what is typed next is another sum.
    if (field) setTimeout(() => field?.select());
  });
  $effect(() => {
    if (sums.shown) job = jobOpen();
  });

  async function keep() {
    if (!answer || job === 0) return;
    const worked = { asked: sums.text.trim(), says: answer.says };
    try {
      await api.noteReplacing(job, { id: entry.idOf(worked), at: now(), worked });
      entry.done();
      kept = worked.asked;
      sums.kept++;
    } catch (error: unknown) {
      trouble = told(error);
      answer = null;
    }
  }

  $effect(() => {
    if (!sums.shown) return;
    const asked = sums.text;
    fresh
      .ask(() => api.sum({ text: asked }))
      .then(
        (found) => {
          if (!found) return;
          answer = asked.trim() === '' ? null : found;
          examples = found.examples;
          trouble = '';
        },
        (error: unknown) => {
          trouble = told(error);
          answer = null;
        },
      );
  });
</script>

<Modal title="A sum, as one speaks it" bind:open={sums.shown} size="md">
  <form
    onsubmit={(e) => {
      e.preventDefault();
      void keep();
    }}
  >
    <input
      bind:this={field}
      bind:value={sums.text}
      class="border-ink bg-panel text-entry figure w-full rounded-lg border-2 px-3 py-1"
      autocomplete="off"
      aria-label="A sum"
      placeholder="120k || 33k"
    />
  </form>
  {#if answer}
    <div aria-live="polite" data-test="sum">
      <p class="text-soft">{answer.asked}</p>
      <p class="text-entry figure font-semibold">{answer.says}</p>
      <dl class="grid grid-cols-[max-content_minmax(0,1fr)] gap-x-4">
        {#each answer.lines as l, i (i)}
          <dt class="text-soft">{l.what}</dt>
          <dd class={l.what === '' ? 'col-span-2' : 'figure'}>{l.text}</dd>
        {/each}
      </dl>
      {#if job > 0}
        <p class="text-small mt-1" role="status">
          {#if kept === sums.text.trim()}Kept in No. {job}, under Replace.{:else}
            <button type="button" class="underline" onclick={() => void keep()}>Enter keeps it in No. {job}</button>
          {/if}
        </p>
      {/if}
    </div>
  {:else if trouble !== '' && sums.text.trim() !== ''}
    <p class="text-soft">{trouble}</p>
  {:else}
    <ul class="text-small figure text-soft grid grid-cols-2 gap-x-4">
      {#each [...examples, '2n3904 for bc547, 20 V'] as e (e)}
        <li>
          <button type="button" class="hover:text-ink text-left hover:underline" onclick={() => (sums.text = e)}
            >{e}</button
          >
        </li>
      {/each}
    </ul>
  {/if}
</Modal>

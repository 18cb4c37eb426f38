<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import { jobOpen } from './address';
  import Logo from './Logo.svelte';

  /** What stands where a screen has broken: what went wrong, and the ways back. */
  let { error, again }: { error: unknown; again: () => void } = $props();

  const number = jobOpen();
  let says = $state('');

  /** What was logged last is what most probably cannot be shown. */
  async function strikeLast() {
    try {
      const view = await api.job(number);
      const last = view.findings?.readings.findLast((j) => !j.reading.struck);
      if (!last) {
        says = 'No reading of this job is left to strike out.';
        return;
      }
      await api.strike(number, last.reading.id, { reason: 'the screen could not show it' });
      again();
    } catch (trouble) {
      says = told(trouble);
    }
  }
</script>

<svelte:window onhashchange={again} />

<main class="mx-auto flex h-full max-w-xl flex-col justify-center gap-3 p-6" role="alert">
  <Logo />
  <h1 class="text-say font-semibold">This screen cannot be shown</h1>
  <p>
    Something in it went wrong. Nothing that was confirmed is lost. Load it again; if it breaks again, take back what
    was logged last, or go on elsewhere.
  </p>
  <p class="figure text-small text-soft">{told(error)}</p>
  <div class="flex flex-wrap gap-3">
    <Button type="button" onclick={again}>Load it again</Button>
    {#if number > 0}
      <Button type="button" color="alternative" onclick={() => void strikeLast()}>Strike out the last reading</Button>
    {/if}
    <Button href="#/" color="alternative">To the shelf of jobs</Button>
  </div>
  {#if says}<p class="text-fault font-semibold" role="status">{says}</p>{/if}
</main>

<script lang="ts">
  import Key from '../shared/Key.svelte';
  import { practising } from '../practise/practising';
  import type { Bench } from './bench.svelte';

  /** Readings taken by instruments: what one key does, and where hands have the practice probe. */
  let { bench, oninstruments }: { bench: Bench; oninstruments?: (() => void) | undefined } = $props();

  const tools = $derived(bench.tools?.instruments ?? []);
  const practice = $derived(bench.practice);
  const scope = $derived(
    tools.some((t) => t.kind === 'scope') &&
      bench.quantity === 'ac' &&
      bench.view?.instruments.find((i) => i.key === bench.view?.instrument)?.scope,
  );
  const there = $derived(practice?.here && practice.probe === bench.aim);
</script>

{#if tools.length > 0 && !practising}
  <div class="text-small flex flex-wrap items-baseline gap-x-2.5 gap-y-0.5" data-test="take">
    <button
      type="button"
      class="disabled:text-soft underline decoration-dotted"
      disabled={bench.busy || bench.aim === ''}
      title="an instrument takes what is aimed at"
      onclick={() => void bench.takeIt()}><Key of="take" /> take it</button
    >
    <button
      type="button"
      class="disabled:text-soft underline decoration-dotted"
      disabled={bench.busy}
      title="sets the generator to what is fed in"
      onclick={() => void bench.feedIt()}><Key of="feed" /> generator</button
    >
    {#if practice}
      <button
        type="button"
        class="disabled:text-soft underline decoration-dotted"
        disabled={bench.busy || bench.aim === ''}
        title="the practice probe on {bench.aim}, the generator where it is fed in"
        onclick={() => void bench.hands()}><Key of="hands" /> probe there</button
      >
    {/if}
    {#if oninstruments}
      <button type="button" class="underline decoration-dotted" onclick={oninstruments}
        ><Key of="instruments" /> instruments</button
      >
    {/if}
    {#if scope}
      <label class="text-soft"
        >second probe
        <select
          class="border-line bg-panel text-small rounded-sm py-0 ps-1 pe-6"
          aria-label="Second probe"
          bind:value={bench.second}
        >
          <option value="">none</option>
          {#each bench.points as point (point.name)}<option value={point.name}>{point.name}</option>{/each}
        </select></label
      >
    {/if}
    {#if practice}
      <span class={there || !practice.here ? 'text-soft' : 'text-fault'} data-test="practice">
        practice: {practice.here
          ? `probe ${practice.probe ? `on ${practice.probe}` : 'nowhere'}${practice.second ? `, second on ${practice.second}` : ''}${practice.generator ? `, generator at ${practice.generator}, ${practice.generating}` : ''}`
          : 'another set is on it'}
      </span>
    {/if}
  </div>
{/if}

<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { StageView } from '../api/types.gen';
  import { practising } from '../practise/practising';
  import Key from '../shared/Key.svelte';
  import type { Inside } from './inside.svelte';

  /** A reading in the circuit: of what, against what, as typed. */
  interface Props {
    inside: Inside;
    looked: StageView;
    field: HTMLInputElement | undefined;
    against: HTMLSelectElement | undefined;
  }
  let { inside, looked, field = $bindable(), against = $bindable() }: Props = $props();

  function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    if (practising) void inside.takeIt();
    else if (inside.text.trim() !== '') void inside.log().then((done) => (done ? field?.blur() : field?.focus()));
  }
</script>

<form class="mt-2" {onsubmit}>
  <label for="entry" class="lead flex flex-wrap items-baseline gap-2">
    <b class="text-ink text-name">{inside.node || inside.part}</b>
    <button type="button" class="underline decoration-dotted" onclick={() => inside.turn()}
      >{inside.whatName} <Key of="what" /></button
    >
    {#if inside.against}
      <span class="ml-auto flex items-baseline gap-1.5"
        >against <Key of="against" />
        <select
          class="border-line bg-panel text-small rounded-sm py-0 ps-1 pe-6"
          aria-label="Against"
          bind:this={against}
          bind:value={inside.to}
          onchange={() => field?.focus()}
        >
          <option value="">ground</option>
          {#each looked.figure.lines.filter((l) => !l.ground && l.node !== inside.node) as l (l.node)}
            <option value={l.node}>{l.node}</option>
          {/each}
        </select></span
      >
    {/if}
  </label>
  <div class="mt-1 flex gap-2">
    <input
      id="entry"
      bind:this={field}
      bind:value={inside.text}
      class="figure text-entry border-line bg-panel min-w-0 flex-1 rounded-md border-2 px-3 py-1"
      autocomplete="off"
      disabled={practising}
      placeholder={practising
        ? 't takes it'
        : inside.what === 'gain'
          ? '28 dB'
          : inside.what === 'shape'
            ? 'clipped on top'
            : inside.what === 'checked'
              ? 'good, bad'
              : '1.2'}
      aria-describedby="trouble"
    />
    {#if inside.what === 'shape'}
      <input
        class="figure border-line bg-panel w-20 rounded-md border-2 px-2"
        aria-label="driven by"
        bind:value={inside.drive}
      />
    {/if}
    {#if inside.what === 'gain' || inside.what === 'shape'}
      <input
        class="figure border-line bg-panel w-20 rounded-md border-2 px-2"
        aria-label="at frequency"
        bind:value={inside.hz}
      />
    {/if}
    <Button type="submit" disabled={inside.busy}>{practising ? 'Take it' : 'Log'}</Button>
  </div>
</form>

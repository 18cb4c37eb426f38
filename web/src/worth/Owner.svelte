<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api } from '../api/client';
  import type { WorthView } from '../api/types.gen';
  import Key from '../shared/Key.svelte';
  import type { Worth } from './worth.svelte';

  /** What the owner is told, and what he says. */
  let { it, view, closed }: { it: Worth; view: WorthView; closed: boolean } = $props();

  const leave = (e: KeyboardEvent & { currentTarget: HTMLElement }) => {
    if (e.key === 'Escape') e.currentTarget.blur();
  };
</script>

{#snippet typed(name: string, label: string, kind = 'text')}
  <label class="text-small text-soft min-w-0"
    >{label}<input
      class="border-line bg-panel text-ink figure block w-full rounded-md border px-2 py-0.5 text-base"
      type={kind}
      data-field={name}
      autocomplete="off"
      bind:value={() => it.field(name), (text: string) => (it.drafts[name] = text)}
      onkeydown={leave}
    /></label
  >
{/snippet}

<h2 class="lead mt-4 flex items-center gap-2">For the owner <Key of="estimate" /></h2>
{#if view.waits}
  <p class="text-pretty">The owner is asked, and has not answered.</p>
  <form
    class="mt-1 flex flex-wrap items-end gap-2"
    onsubmit={(e) => {
      e.preventDefault();
      void it.answer(true);
    }}
  >
    <div class="w-28">{@render typed('most', 'up to, if said')}</div>
    <Button type="submit" size="sm">Go on</Button>
    <Button type="button" size="sm" color="alternative" onclick={() => void it.answer(false)}>Do not repair it</Button>
    <Button size="sm" color="alternative" href={api.estimateFile(view.number)} target="_blank">Print it</Button>
  </form>
{:else if !closed}
  <form
    class="flex flex-col gap-1.5"
    onsubmit={(e) => {
      e.preventDefault();
      void it.give();
    }}
  >
    <div class="grid max-w-xl grid-cols-[1fr_1fr_1.4fr] gap-2">
      {@render typed('low', 'from')}
      {@render typed('high', 'to')}
      {@render typed('until', 'holds until', 'date')}
    </div>
    <label class="text-small text-soft max-w-xl min-w-0"
      >what it depends on<textarea
        class="border-line bg-panel text-ink block w-full rounded-md border px-2 py-0.5 text-base"
        rows="3"
        bind:value={() => it.field('text'), (text: string) => (it.drafts['text'] = text)}
        onkeydown={leave}></textarea></label
    >
    <div class="flex flex-wrap gap-2">
      <Button type="submit" size="sm">Given: wait for the answer</Button>
      <Button size="sm" color="alternative" href={api.estimateFile(view.number)} target="_blank">Print it</Button>
    </div>
  </form>
{/if}

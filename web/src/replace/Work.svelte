<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { ReplaceView } from '../api/types.gen';
  import { when } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import Pictures from '../shared/Pictures.svelte';
  import type { Replacing } from './replace.svelte';

  /** The work in order, and what has to be had for it. */
  interface Props {
    it: Replacing;
    view: ReplaceView;
    closed: boolean;
    onfitted: () => void;
    onmodification: (what: string) => void;
  }
  let { it, view, closed, onfitted, onmodification }: Props = $props();

  const asking: Record<string, { choose: () => void } | null> = $state({});
  /** Takes a picture of the step that is next. */
  export function picture() {
    asking[it.step1?.key ?? '']?.choose();
  }
  const orders = $derived(view.orders.filter((l) => !l.drawer));
</script>

{#if view.steps.length > 0}
  <h2 class="lead mt-4 flex flex-wrap items-center gap-2">
    The work, in order
    <label class="text-small text-soft ml-auto flex items-center gap-1.5"
      >board <Key of="board" />
      <select
        class="border-line bg-panel text-small rounded-sm py-0 ps-1 pe-6"
        disabled={closed}
        value={view.board}
        onchange={(e) => void it.setBoard(e.currentTarget.value as ReplaceView['board'])}
      >
        <option value="">not said</option>
        {#each view.boards as b (b)}<option value={b}>{b}</option>{/each}
      </select></label
    >
  </h2>
  <ol aria-label="Work">
    {#each view.steps as s (s.key)}
      {@const now = s.key === it.step1?.key}
      <li class="border-rule grid grid-cols-[26px_minmax(0,1fr)_auto] gap-x-2 border-t py-1">
        <span aria-hidden="true">{s.done ? '✓' : now ? '▸' : ''}</span>
        <span class={[s.done && 'text-soft', now && 'text-weight font-semibold text-pretty']}
          >{#if s.caution && !s.done}
            <span
              class={['border-hazard mb-0.5 block border-l-4 pl-2', now ? 'text-base' : 'text-small', 'font-normal']}
              ><span class="text-hazard" aria-hidden="true">▲</span> {s.caution}</span
            >
          {/if}{s.text}{#if s.at}<span class="text-small ml-2">{when(s.at)}</span>{/if}
          {#if s.pictures.length > 0 || (now && !closed)}
            <span class="mt-1 flex items-center gap-1"
              >{#if now && !closed}<Key of="picture" />{/if}<Pictures
                bind:this={asking[s.key]}
                job={view.number}
                work={s.key}
                brief={!now}
                ids={s.pictures}
                {closed}
                onchange={() => void it.kept.load()}
              /></span
            >
          {/if}</span
        >
        {#if !closed && s.done}
          <button
            type="button"
            class="text-soft hover:text-fault px-1"
            aria-label="Not done: {s.text}"
            onclick={() => void it.undo(s)}>✕</button
          >
        {:else if !closed && now}
          <Button size="xs" class="self-start" onclick={() => void it.tick()}>Done <Key of="tick" /></Button>
        {/if}
      </li>
    {/each}
  </ol>
  {#if !closed && it.chosen > 0 && it.step1}
    <Button class="mt-2" color="alternative" size="sm" onclick={onfitted}
      >All of it is in: note the repair <Key of="fitted" /></Button
    >
  {/if}
{/if}
{#if view.orders.length > 0}
  <h2 class="lead mt-4 flex items-center gap-3">
    To be had
    {#if orders.length > 0}<a class="text-small underline" href="./api/jobs/{view.number}/replacing/order.csv" download
        >order list as CSV</a
      >{/if}
  </h2>
  <ul aria-label="To be had">
    {#each view.orders as l (l.what + String(l.drawer))}
      <li class="border-rule grid grid-cols-[minmax(0,1fr)_auto_auto] gap-x-3 border-t py-0.5">
        <span><b>{l.what}</b> <span class="text-small text-soft">for {l.for.join(', ')}</span></span>
        <span class="figure flex items-center gap-2"
          >{l.count}{#if !l.drawer && !closed}<input
              class="border-line bg-panel text-small w-20 rounded-sm py-0"
              aria-label="Price of {l.what}"
              placeholder="price"
              value={l.price}
              onchange={(e) => void it.price(l, e.currentTarget.value)}
            />{:else if l.price}<span class="text-small">{l.price}</span>{/if}</span
        >
        <span class="text-small text-soft">{l.drawer ? `drawer${l.place ? `, ${l.place}` : ''}` : 'to order'}</span>
      </li>
    {/each}
  </ul>
{/if}
{#if view.modifications.length > 0}
  <h2 class="lead mt-4">Modifications of this model</h2>
  <ul aria-label="Modifications of this model">
    {#each view.modifications as m (m.what)}
      <li class="border-rule border-t py-0.5">
        <button type="button" class="font-semibold underline" onclick={() => onmodification(m.what)}>{m.what}</button>
        {#if m.here}<span class="text-expect">✓ made in this set</span>{/if}
        <span class="text-small text-soft">{[m.stage, m.why].filter(Boolean).join(': ')}</span>
      </li>
    {/each}
  </ul>
{/if}
{#if view.sums.length > 0}
  <h2 class="lead mt-4">Worked out</h2>
  <ul aria-label="Worked out">
    {#each view.sums as s (s.entry)}
      <li class="border-rule grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 border-t py-0.5">
        <span><span class="text-soft">{s.asked}:</span> <b>{s.says}</b></span>
        {#if !closed}<button
            type="button"
            class="text-soft hover:text-ink"
            aria-label="Strike out {s.asked}"
            onclick={() => void it.strike(s.entry)}>✕</button
          >{/if}
      </li>
    {/each}
  </ul>
{/if}

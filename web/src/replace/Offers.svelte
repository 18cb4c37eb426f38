<script lang="ts">
  import type { ReplaceOffer, ReplacePart, ReplaceView } from '../api/types.gen';
  import Key from '../shared/Key.svelte';
  import type { Replacing } from './replace.svelte';

  /** The parts that are to be replaced, and what may go in the place of the one that is looked at. */
  interface Props {
    it: Replacing;
    view: ReplaceView;
    closed: boolean;
    field: HTMLInputElement | undefined;
  }
  let { it, view, closed, field = $bindable() }: Props = $props();

  const many = $derived(view.parts.length > 6);
  /** How a part stands, at a glance. */
  const sign = (p: ReplacePart) =>
    p.advice === 'stays' && !p.new
      ? '– '
      : p.tests.some((t) => !t.new && t.judgement === 'bad')
        ? '✕ '
        : p.against
          ? '! '
          : p.new
            ? '✓ '
            : '';
  const signs: Record<string, string> = { 'fits as it is': '✓', 'fits with a change': '↻', 'does not fit': '✕' };
</script>

{#snippet one(o: ReplaceOffer, i: number)}
  <li>
    <button
      type="button"
      class={[
        'grid w-full grid-cols-[22px_minmax(0,1fr)_auto] gap-x-2 px-2 py-1 text-left',
        it.mark === i ? 'border-ink bg-panel rounded-lg border-2' : 'border-rule border-t',
      ]}
      aria-current={it.mark === i}
      onclick={() => (it.mark = i)}
      ondblclick={() => void (closed || it.take())}
    >
      <span class={o.verdict.grade === 'does not fit' ? 'text-fault' : ''} aria-hidden="true"
        >{signs[o.verdict.grade]}</span
      >
      <span class="min-w-0"
        ><b class={['text-name', o.verdict.grade === 'does not fit' && 'text-soft']}>{o.new}</b>
        <span class="text-small text-soft">{o.about}</span></span
      >
      <span class="figure text-small self-center"
        >{o.drawer > 0 ? `${o.drawer} in the drawer${o.place ? `, ${o.place}` : ''}` : 'to order'}</span
      >
      <span class="text-small text-soft col-span-2 col-start-2 text-pretty">{o.says}</span>
    </button>
  </li>
{/snippet}

{#if view.parts.length > 0}
  <h2 class="lead flex items-center gap-2">
    To be replaced or mended <Key of="parts" />
    {#if view.parts.length > 1}<span class="text-small text-soft"
        >{it.chosen} of {view.parts.filter((p) => p.advice !== 'stays').length} chosen</span
      >{/if}
    {#if !closed && it.waiting > 1}
      <button type="button" class="text-small ml-auto underline" onclick={() => void it.chooseAll()}
        ><Key of="every" /> what fits best, for all</button
      >
    {/if}
  </h2>
  <ul
    class={[
      'mb-3',
      many ? 'grid max-h-44 grid-cols-1 gap-x-4 overflow-y-auto sm:grid-cols-2' : 'flex flex-wrap gap-1.5',
    ]}
    aria-label="To be replaced"
  >
    {#each view.parts as p, i (p.part)}
      <li class="flex min-w-0">
        <button
          type="button"
          class={[
            'min-w-0 truncate rounded-md border px-2 text-left',
            many ? 'flex-1' : 'py-0.5',
            i === view.at ? 'border-ink bg-panel border-2 font-semibold' : many ? 'border-transparent' : 'border-line',
            p.against && 'text-fault',
          ]}
          aria-current={i === view.at}
          title={p.was}
          onclick={() => void it.look(p.part)}
          >{sign(p)}{p.part}{p.new ? ` → ${p.new}` : p.was ? `, ${p.was}` : ''}</button
        >
        {#if !closed && i === view.at}
          <button
            type="button"
            class="text-soft hover:text-fault px-1"
            aria-label="{p.part} stays in"
            title="it stays in after all"
            onclick={() => void it.drop(p)}>✕</button
          >
        {/if}
      </li>
    {/each}
  </ul>
{/if}
{#if it.part && it.part.sort !== 'mending'}
  <h2 class="lead flex items-center gap-2">In its place <Key of="offers" /></h2>
  {#if !closed}
    <form
      class="mb-1 flex gap-2"
      onsubmit={(e) => {
        e.preventDefault();
        void it.judge();
      }}
    >
      <label class="flex min-w-0 flex-1 items-center gap-2"
        ><Key of="entry" /><input
          bind:this={field}
          class="border-ink bg-panel w-full rounded-lg border-2 px-3 py-0.5"
          autocomplete="off"
          enterkeyhint="done"
          aria-label="Something to be judged in its place"
          placeholder="type one that you have, and see whether it fits"
          bind:value={it.typed}
          onkeydown={(e) => {
            if (e.key === 'Escape') e.currentTarget.blur();
          }}
        /></label
      >
      {#if it.marked && it.mark >= 0}
        <button
          type="button"
          class="border-line rounded-md border px-2 whitespace-nowrap"
          onclick={() => void it.take()}>Take it <Key of="take" /></button
        >
      {/if}
    </form>
    {#if it.doubted !== ''}
      <p class="text-fault mb-1 font-semibold" role="alert">
        {it.doubted} does not fit. Once more takes it all the same, and the record says so.
      </p>
    {/if}
  {/if}
  <ul aria-label="Offers">
    {#if view.tried}{@render one(view.tried, -1)}{/if}
    {#each it.shown as o, i (o.new + o.place)}{@render one(o, i)}{/each}
  </ul>
  {#if it.shown.length < view.offers.length}
    <button type="button" class="text-measured text-small px-2 py-1 font-semibold" onclick={() => (it.all = true)}
      >{view.offers.length - it.shown.length} more that fit, or lie in the drawer ▾</button
    >
  {/if}
  {#if view.offers.length === 0 && !view.trouble}
    <p class="text-soft">Nothing of the table or the drawer fits.</p>
  {/if}
{/if}

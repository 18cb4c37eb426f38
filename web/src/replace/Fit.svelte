<script lang="ts">
  import type { ReplaceView, SubstituteBar } from '../api/types.gen';
  import { engineering } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import Legs from './Legs.svelte';
  import type { Replacing } from './replace.svelte';

  /** How what is marked fits: its legs in the old holes, what is asked for beside what it has. */
  interface Props {
    it: Replacing;
    view: ReplaceView;
    closed: boolean;
    tested: HTMLInputElement | undefined;
  }
  let { it, view, closed, tested = $bindable() }: Props = $props();

  let given = $state('');
  async function test() {
    tested?.blur(); // at once: the next key is a command again
    if (await it.test(given)) given = '';
  }

  const offer = $derived(it.marked);
  const part = $derived(it.part);
  /** Where the need stands along what is offered. */
  const share = (b: SubstituteBar) =>
    Math.min(100, b.atMost ? (100 * b.has) / (b.needed || 1) : (100 * b.needed) / (b.has || b.needed));
  const figure = (x: number, unit: string) => (x === 0 ? 'not known' : engineering(x, unit));
</script>

{#if part}
  <h2 class="lead mt-3">
    {part.part}{part.was ? `, ${part.was}` : ''}{part.what ? `: ${part.what}` : ''}
  </h2>
  {#if view.known.length > 0 || part.duty}
    <p class="text-small text-soft">
      {#each view.known as k, i (k.what)}{i > 0 ? ', ' : ''}<span class="figure">{k.text}</span>
        {k.what}{/each}{view.known.length > 0 && part.duty ? '; ' : ''}{part.duty}
    </p>
  {/if}
  {#if part.listed && part.why}
    <p><b class={part.advice === 'stays' ? 'text-expect' : ''}>{part.advice}</b>: {part.why}</p>
  {/if}
  {#each part.tests as t (t.given + String(t.new))}
    <p class="text-small">
      {t.new ? 'the new one' : 'as it was'}: <span class="figure">{t.given}</span>
      <span class={t.judgement === 'bad' ? 'text-fault font-semibold' : ''}
        >{t.judgement === 'bad' ? '✕' : t.judgement === 'good' ? '✓' : '?'} {t.says}</span
      >
    </p>
  {/each}
  {#if !closed && (part.sort === 'capacitor' || part.sort === 'resistor')}
    <form
      class="mt-1 flex max-w-md items-center gap-2"
      onsubmit={(e) => {
        e.preventDefault();
        void test();
      }}
    >
      <Key of="test" />
      <input
        bind:this={tested}
        class="border-line bg-panel w-full rounded-md border px-2 py-0.5"
        autocomplete="off"
        aria-label="What was measured of it"
        placeholder={part.sort === 'capacitor' ? 'measured: 31u 4 ohm, leaks 20 uA at 24 V' : 'measured: 5.1k'}
        bind:value={given}
        onkeydown={(e) => {
          if (e.key === 'Escape') e.currentTarget.blur();
        }}
      />
    </form>
  {/if}
  {#if view.trouble}<p class="border-measured mt-2 border-l-4 pl-3 font-semibold" data-test="trouble">
      {view.trouble}
    </p>{/if}
  {#if offer}
    <p class="text-name mt-2 font-semibold text-pretty" data-test="fits">
      <span class={offer.verdict.grade === 'does not fit' ? 'text-fault' : ''}>{offer.new}: {offer.verdict.grade}</span>
    </p>
    {#each [...offer.verdict.against, ...offer.verdict.changes] as text (text)}
      <p class={offer.verdict.against.includes(text) ? 'text-fault' : ''}>
        {offer.verdict.against.includes(text) ? '✕' : '↻'}
        {text}
      </p>
    {/each}
    {#if offer.verdict.fitting}<Legs fitting={offer.verdict.fitting} />{/if}
    {#if offer.verdict.bars.length > 0}
      <h3 class="lead mt-2">What it has to bear, and what it can</h3>
      <dl class="text-small grid grid-cols-[minmax(0,9.5rem)_minmax(3rem,1fr)_auto_auto] items-center gap-x-3 gap-y-1">
        {#each offer.verdict.bars as b (b.what)}
          <dt>{b.what}</dt>
          <dd class="bg-chip relative h-3" aria-hidden="true">
            <span
              class={['absolute inset-y-0 left-0', b.met ? 'bg-expect' : 'hatch']}
              style:width="{b.atMost ? share(b) : b.met ? 100 : Math.min(100, (100 * b.has) / b.needed)}%"
            ></span>
            <span class="bg-measured absolute -inset-y-0.5 w-[3px]" style:left="{b.atMost || !b.met ? 99 : share(b)}%"
            ></span>
          </dd>
          <dd class="figure text-right">{b.atMost ? '≤' : '≥'} {figure(b.needed, b.unit)}</dd>
          <dd class={['figure text-right', !b.met && 'text-fault font-bold']}>{figure(b.has, b.unit)}</dd>
        {/each}
      </dl>
    {/if}
    {#each offer.verdict.mind as text (text)}
      <p class="border-hazard mt-1.5 border-l-4 pl-3">{text}</p>
    {/each}
  {/if}
  {#if part.beside.length > 0}
    <h3 class="lead mt-3">Look at these too, before any power</h3>
    <ul class="border-hazard border-l-4 pl-3" aria-label="Beside">
      {#each part.beside as b (b.part)}
        <li><b>{b.part}</b> <span class="text-small">{b.why}</span></li>
      {/each}
    </ul>
  {/if}
{/if}

<style>
  .hatch {
    background: repeating-linear-gradient(135deg, var(--fault) 0 3px, transparent 3px 6px);
  }
</style>

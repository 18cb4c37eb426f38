<script lang="ts">
  import Key from '../shared/Key.svelte';
  import { Kbd } from 'flowbite-svelte';
  import { link } from 'svelte-spa-router';
  import type { Judged } from '../api/types.gen';
  import { moment, when } from '../shared/format';
  import { touches, type Bench } from './bench.svelte';
  import { practising } from '../practise/practising';
  import Initials from '../shared/Initials.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import Eyes from './Eyes.svelte';
  import RepairLine from './RepairLine.svelte';
  import TakeRow from './TakeRow.svelte';

  interface Props {
    bench: Bench;
    /** The field, so that a digit typed anywhere can go there. */
    field?: HTMLInputElement | undefined;
    onstrike: (reading: Judged) => void;
    /** Which readings are listed; all where left out. */
    lists?: (reading: Judged) => boolean;
    oninstruments?: () => void;
    /** Opens what the set shows by itself. */
    onnotice?: () => void;
    /** Whether what is to be read off is shown here. */
    faced?: boolean;
  }
  let {
    bench,
    field = $bindable(),
    onstrike,
    lists = () => true,
    oninstruments,
    onnotice,
    faced = true,
  }: Props = $props();

  const words = ['ok', 'none', 'weak', 'partly', 'hum', 'noisy', 'crackle', 'distorted', 'cuts out'];
  const bad = (verdict: string) => !['', 'within', 'unjudged'].includes(verdict);
  // The proposed probe's own caution stands beside it; any other point's stands here.
  const hazard = $derived.by(() => {
    return bench.next?.point === bench.aim || !point ? '' : [point.hazard, point.refused].filter(Boolean).join('; ');
  });
  const point = $derived(bench.points[bench.aimAt]);
  const closed = $derived(bench.view?.finished !== null);

  function shown(j: Judged): string {
    return j.verdict === 'unjudged' ? j.note : `${j.verdict} ${j.off}`.trim();
  }
  const dictated = $derived(practising && !bench.readsOff); // the set answers, and nothing is typed
  /** Logs, and leaves the field so that single keys work again; a phone keeps its keyboard open. */
  async function log() {
    if (dictated) {
      await bench.takeIt();
      return;
    }
    if ((await bench.logTyped()) && bench.text === '' && !matchMedia('(pointer: coarse)').matches) field?.blur();
  }
  function onkeydown(event: KeyboardEvent) {
    if (event.key === 'Escape') {
      bench.type('');
      field?.blur();
      event.preventDefault();
    } else if (bench.text === '' && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      bench.step(event.key === 'ArrowLeft' ? -1 : 1);
      event.preventDefault();
    }
  }
</script>

<section class="border-line flex min-w-0 flex-col border-t p-[14px_18px] lg:border-t-0 lg:border-r">
  <h2 class="lead">Reading</h2>
  {#if hazard}
    <p class="mt-1 font-semibold"><span class="text-hazard" aria-hidden="true">▲</span> Mind: {hazard}</p>
  {/if}
  {#if bench.dropped}
    <p class="border-line text-soft mt-1 border-l-4 pl-3" data-test="dropped">
      What is read now is no longer with {bench.dropped.says}.
      <button type="button" class="underline" onclick={() => bench.dropped?.undo()}>It is as it was</button>
    </p>
  {/if}
  {#each bench.view?.repairs.filter((r) => r.in) ?? [] as stopgap (stopgap.id)}
    <p class="border-hazard mt-1 border-l-4 pl-3" data-test="stopgap">
      <b>{stopgap.says}</b>, and it counts with what is read.
      <button type="button" class="underline" onclick={() => void bench.remove({ entry: stopgap.id })}
        >It is out again</button
      >
    </p>
  {/each}
  {#if !closed}
    <p class="mt-1 flex flex-wrap items-baseline gap-x-2" data-test="logged-as">
      <span class="text-soft text-small">Logged as</span>
      <button
        type="button"
        class="font-semibold underline decoration-dotted disabled:no-underline"
        data-test="quantity"
        onclick={() => bench.turnQuantity()}
        disabled={!bench.turns}>{bench.quantityName}</button
      >{#if bench.turns}<Key of="quantity" />{/if}
      {#if bench.control?.moves}
        <button
          type="button"
          class={['font-semibold underline decoration-dotted', bench.worked && 'text-measured']}
          aria-pressed={bench.worked}
          onclick={() => bench.turnWorked()}>{bench.worked ? `with ${bench.control.by}` : 'as it stands'}</button
        ><Key of="worked" />
        <span class="text-soft text-small"
          >{bench.worked ? bench.control.moves : bench.control.expected} is due; {bench.worked
            ? 'as it stands'
            : `with ${bench.control.by}`}
          {bench.worked ? bench.control.expected : bench.control.moves}</span
        >
      {/if}
      {#if bench.otherwise}<b class="text-measured" data-test="otherwise">with {bench.otherwise}</b>{/if}
      {#if bench.without.length > 0}<b class="text-measured" data-test="without"
          >with {bench.without.join(', ')} lifted, bridged or swapped</b
        >{/if}
      {#if bench.otherwise || bench.without.length > 0}
        <button type="button" class="text-small underline" onclick={() => bench.plain()}
          >{bench.without.length > 0 ? 'nothing is lifted' : 'as the bench is set'}</button
        >
      {/if}
    </p>
  {/if}
  {#if faced}<Eyes {bench} />{/if}
  <form
    class="border-ink bg-panel focus-within:border-measured mt-1.5 flex items-center gap-3 rounded-lg border-2 px-3 py-1"
    onsubmit={(e) => {
      e.preventDefault();
      void log();
    }}
  >
    <label for="entry" class="text-soft max-w-[40%] flex-none truncate">{bench.aim || 'no point'}</label>
    <input
      id="entry"
      bind:this={field}
      class="figure text-entry min-w-0 flex-1 border-0 bg-transparent p-0 focus:ring-0 focus-visible:outline-none"
      autocomplete="off"
      autocapitalize="none"
      spellcheck="false"
      enterkeyhint="done"
      placeholder={closed ? 'finished' : dictated ? 't takes it' : practising ? 't shows it' : ''}
      disabled={closed || dictated}
      value={bench.text}
      oninput={(e) => bench.type(e.currentTarget.value)}
      {onkeydown}
    />
    {#if bench.echo && bench.echo.problem === ''}
      <output
        class={['flex-none font-semibold', bad(bench.echo.verdict) ? 'text-fault' : 'text-expect']}
        data-test="echo">{bench.echo.says}</output
      >
    {/if}
  </form>
  <div class="text-small text-soft min-h-[40px] pt-0.5" role="status">
    {#if bench.trouble}
      <span class="text-fault font-semibold" role="alert">{bench.trouble}</span>
    {:else if bench.told}
      {bench.told}
    {:else if bench.echo?.problem}
      {bench.echo.problem}
    {:else if bench.echo}
      {bench.echo.understood}{bench.echo.expected ? ` where ${bench.echo.expected} is due` : ''}{bench.echo.note
        ? `; ${bench.echo.note}`
        : ''}
    {:else if !closed}
      {#if bench.touching && !practising}
        {#each touches as t (t.key)}
          <button
            type="button"
            class="text-ink mr-2 underline decoration-dotted"
            onclick={() => void bench.touched(t.key)}><Kbd>{t.key}</Kbd> {t.says}</button
          >
        {/each}
      {:else}
        {#if practising}
          <button
            type="button"
            class="text-ink disabled:text-soft underline decoration-dotted"
            disabled={bench.busy || bench.aim === ''}
            onclick={() => void bench.takeIt()}
            ><Key of="take" />
            {bench.touching ? 'touch it, and listen' : dictated ? 'take it' : 'look at it'}</button
          >{dictated ? ': the set answers.' : ', and read it off: a figure, or a word'}
        {:else}
          A figure, or a word <Key of="words" />
        {/if}
      {/if}
      {#each bench.touching || dictated ? [] : bench.quantity === 'resistance' ? ['open'] : words as word (word)}
        <button
          type="button"
          class="hover:text-ink mr-1.5 underline decoration-dotted"
          onclick={() => {
            bench.type(word);
            field?.focus();
          }}>{word}</button
        >
      {/each}
      {#if point?.ifGood && bench.quantity === 'ac'}
        <span class="text-ink block" data-test="what-if">Good would leave {point.ifGood}; bad, {point.ifBad}.</span>
      {/if}
    {/if}
  </div>
  {#if !closed}<TakeRow {bench} {oninstruments} />{/if}
  {#if !closed && onnotice}
    <p class="text-small">
      <button type="button" class="underline decoration-dotted" onclick={onnotice}
        ><Key of="notice" /> what it shows by itself</button
      >
    </p>
  {/if}
  <Scroll>
    <ul class="mt-1" aria-label="Evidence">
      {#each bench.story.filter((t) => !t.reading || lists(t.reading)) as line (line.key)}
        {#if line.repair}
          <RepairLine {bench} repair={line.repair} {closed} />
        {:else if line.symptom}
          <li
            class={[
              'border-rule grid grid-cols-[50px_minmax(0,1fr)] items-baseline gap-1.5 border-t py-1 first:border-0',
              (line.symptom.struck || line.symptom.earlier) && 'text-soft',
            ]}
            title={[moment(line.symptom.at), line.symptom.shows].filter(Boolean).join('; ')}
            data-test="noticed"
          >
            <span class="figure text-small text-soft">{when(line.symptom.at)}</span>
            <button
              type="button"
              class={['truncate text-left', line.symptom.struck && 'line-through']}
              onclick={() => onnotice?.()}>{line.symptom.says}</button
            >
          </li>
        {:else if line.reading}
          {@render reading(line.reading)}
        {/if}
      {:else}
        <li class="text-soft py-1">
          {practising ? 'No readings yet.' : 'No readings yet. Type what the instrument shows; Enter logs it.'}
        </li>
      {/each}
      {#snippet reading(j: Judged)}
        {@const struck = j.reading.struck}
        {@const quiet = struck || j.superseded || j.earlier}
        <li
          class={[
            'border-rule grid grid-cols-[50px_minmax(0,1fr)_fit-content(140px)_minmax(0,1.3fr)_16px]',
            'items-baseline gap-1.5 border-t py-1 first:border-0',
            quiet && 'text-soft',
          ]}
          title={[moment(j.reading.taken), j.note].filter(Boolean).join('; ')}
        >
          <span class="figure text-small text-soft">{when(j.reading.taken)}<Initials who={j.reading.who} /></span>
          <button
            type="button"
            class={['figure truncate text-left', struck && 'line-through']}
            title={j.reading.settings ?? ''}
            onclick={() => bench.aimFor(j.reading.point, j.reading.quantity)}>{j.reading.point}</button
          >
          <span class={['figure min-w-[68px] truncate', struck && 'line-through']} title={j.understood}
            >{#if j.reading.capture}<a
                use:link
                class="underline decoration-dotted"
                title="the captured waveform it was read from"
                href="/jobs/{bench.number}/signals/{j.reading.capture}">{j.understood}</a
              >{:else}{j.understood}{/if}</span
          >
          {#if struck}
            <span class="truncate"
              >struck out{bench.view?.struck[j.reading.id ?? '']
                ? `: ${bench.view.struck[j.reading.id ?? '']}`
                : ''}</span
            >
          {:else if j.superseded}
            <span class="truncate">read again later</span>
          {:else}
            <span class={['truncate', bad(j.verdict) && !quiet ? 'text-fault font-semibold' : 'text-soft']}
              >{bad(j.verdict) ? (j.verdict === 'high' ? '▴ ' : '▾ ') : ''}{shown(j)}{j.was && j.was !== j.understood
                ? `, before ${j.was}`
                : ''}</span
            >
          {/if}
          {#if !struck && !closed && !j.earlier}
            <button
              type="button"
              class="text-soft hover:text-fault"
              aria-label="Strike out {j.reading.point} {j.understood}"
              onclick={() => onstrike(j)}>✕</button
            >
          {/if}
          {#if j.how}<span class="text-small text-soft col-span-4 col-start-2 -mt-1 truncate" data-test="how"
              >{j.how}</span
            >{/if}
        </li>
      {/snippet}
    </ul>
  </Scroll>
</section>

<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { AdjustStanding } from '../api/types.gen';
  import { valued, when } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import { spent } from '../shared/keys.svelte';
  import type { Adjusting } from './adjusting.svelte';
  import Course from './Course.svelte';
  import Curve from './Curve.svelte';
  import Ribbon from './Ribbon.svelte';

  /** One adjustment at work: what comes next, what it shows, its conditions, its warm-up, how it moves. */
  interface Props {
    it: Adjusting;
    at: AdjustStanding;
    closed: boolean;
    /** What the meter shows; not watched: nothing. */
    seen: string | undefined;
    field: HTMLInputElement | undefined;
    turned: HTMLInputElement | undefined;
    reason: HTMLInputElement | undefined;
    onmenu: () => void;
  }
  let {
    it,
    at,
    closed,
    seen,
    field = $bindable(),
    turned = $bindable(),
    reason = $bindable(),
    onmenu,
  }: Props = $props();

  const course = $derived(it.watching ? at.course.at(-1) : undefined);
  /** What it shows now: typed, watched, or read last. */
  const now = $derived(it.echo?.si ?? course?.si ?? at.after?.si ?? null);
  const shown = $derived(it.echo ? it.echo.value : course ? valued(course.si, at.unit) : (at.after?.value ?? ''));
  const verdict = $derived.by(() => {
    if (it.echo) return it.echo.verdict;
    const [low, high] = at.ribbon;
    if (course && low !== undefined && high !== undefined)
      return course.si < low ? 'low' : course.si > high ? 'high' : 'right';
    return at.after?.verdict ?? '';
  });
  const off = $derived(verdict === 'low' || verdict === 'high');
  /** A setting of the set's own menu without a value to go by: what stands there is written down. */
  const menu = $derived(at.kind === 'setting' && at.sought === '');
  const searched = $derived(at.null !== null);
  const readings = $derived(at.readings.toReversed().slice(0, 12));
  const minutes = $derived(
    `${String(Math.floor(Math.ceil(it.left) / 60))}:${String(Math.ceil(it.left) % 60).padStart(2, '0')}`,
  );
  const warmed = $derived(at.warm.needed > 0 ? 1 - it.left / at.warm.needed : 1);
  const leaving = (e: KeyboardEvent) => {
    if (e.key === 'Escape') (e.currentTarget as HTMLElement).blur();
  };
  async function log() {
    field?.blur(); // the next key is a command again
    if (!(await it.log())) field?.focus();
  }
</script>

<p class="text-say font-semibold text-pretty" data-test="says">{at.says}</p>
<p class="text-soft">
  <b class="text-ink">{at.name}</b>{at.turn ? `: ${at.turn}` : ''}{at.where
    ? `, measured ${at.where.startsWith('across') ? '' : 'at '}${at.where}`
    : ''}{at.target ? `, to ${at.target}` : ''}{at.bounds ? ` (${at.bounds})` : ''}{at.source === 'circuit'
    ? ', computed from the circuit'
    : at.source === 'usual'
      ? ', as is usual'
      : ''}
</p>
{#if at.doubt}<p class="text-fault font-semibold" data-test="doubt">
    <span aria-hidden="true">▲</span>
    {at.doubt}
  </p>{/if}
{#if at.why}
  <p class="text-small text-soft">
    The workshop’s own way: {at.why}{at.manual ? `. The manual has: ${at.manual}` : ''}
  </p>
{/if}
{#if at.beware}<p class="border-hazard my-1 border-l-4 pl-3 font-semibold">Beware {at.beware}</p>{/if}

{#if menu}
  <div class="mt-2">
    {#if !closed}<Button size="sm" onclick={onmenu}>What its menu stands at <Key of="menu" /></Button>{/if}
  </div>
{:else}
  <div class="mt-2 flex flex-wrap items-end gap-x-6 gap-y-1">
    <p
      class={['figure min-w-40 text-[44px] leading-tight font-bold', off ? 'text-fault' : 'text-ink']}
      data-test="value"
      aria-live="off"
    >
      {shown || '–'}{#if off}<span class="text-[24px]" aria-label={verdict}>&nbsp;{verdict === 'high' ? '▲' : '▼'}</span
        >{/if}
    </p>
    {#if !closed}
      <form
        class="flex min-w-0 flex-1 basis-72 flex-wrap items-end gap-2"
        onsubmit={(e) => {
          e.preventDefault();
          void log();
        }}
      >
        <label class="min-w-32 flex-1"
          ><span class="text-small text-soft">What is read</span>
          <input
            bind:this={field}
            class="border-ink bg-panel figure text-entry w-full rounded-lg border-2 px-3 py-0.5"
            autocomplete="off"
            enterkeyhint="done"
            placeholder={at.sought === 'by eye' || at.sought === 'by ear' ? 'good, or bad' : at.target || '12 mV'}
            bind:value={it.text}
            oninput={() => it.type()}
            onkeydown={leaving}
            onbeforeinput={(e) => spent.input(e)}
          /></label
        >
        {#if searched}
          <label class="w-32"
            ><span class="text-small text-soft">with the control at <Key of="turned" /></span>
            <input
              bind:this={turned}
              class="border-ink bg-panel figure text-entry w-full rounded-lg border-2 px-3 py-0.5"
              autocomplete="off"
              placeholder="40 %"
              title="40 %, a clock’s hour from 7 to 5 (10:30), or turns from the first stop (3 turns)"
              bind:value={it.position}
              oninput={() => it.type()}
              onkeydown={leaving}
            /></label
          >
        {/if}
        <Button type="submit" size="sm" disabled={it.text.trim() === ''}>Keep it</Button>
      </form>
    {/if}
  </div>
  <p class="min-h-5 font-semibold" role="status" data-test="echo">
    {#if it.wrong}<span class="text-fault">{it.wrong}</span>{:else if it.echo}{it.echo.says}{:else if at.after}<span
        class="text-soft font-normal">{at.after.says}</span
      >{/if}
  </p>
{/if}
{#if at.ribbon.length === 2}<Ribbon {at} {now} />{/if}
{#if searched}<Curve {at} />{/if}

<div class="mt-2 grid gap-x-6 gap-y-2 md:grid-cols-2">
  <div class="min-w-0">
    {#if at.conditions.length > 0}
      <h2 class="lead">With</h2>
      <ul aria-label="Conditions">
        {#each at.conditions as c (c.text)}
          <li>
            <label class="flex items-baseline gap-2 py-0.5"
              ><input
                type="checkbox"
                checked={c.ticked}
                disabled={closed}
                onchange={(e) => void it.tick(c.text, !e.currentTarget.checked)}
              />{c.text}
              {#if c.text === it.condition?.text && !closed}<Key of="tick" />{/if}</label
            >
          </li>
        {/each}
      </ul>
    {/if}
    {#if at.warm.needed > 0}
      <h2 class="lead mt-1">Warm-up</h2>
      {#if at.warm.since === null}
        <p class="flex flex-wrap items-center gap-2">
          {at.warm.needed / 60} min, not begun
          {#if !closed}<Button size="xs" color="alternative" onclick={() => void it.warm()}
              ><Key of="warm" />It is on</Button
            >{/if}
        </p>
      {:else}
        <div class="flex items-center gap-3">
          <div class="bg-chip h-3 min-w-0 flex-1 rounded-full" aria-hidden="true">
            <div class="bg-expect h-3 rounded-full" style:width="{Math.round(100 * warmed)}%"></div>
          </div>
          <span class="figure" data-test="warm">{it.left > 0 ? `${minutes} left` : 'warm'}</span>
        </div>
        <p class="text-small text-soft">on since {when(at.warm.since)}</p>
      {/if}
    {/if}
  </div>
  <div class="min-w-0">
    <dl class="grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5">
      {#if at.before}
        <dt class="text-soft">before</dt>
        <dd class="figure" data-test="before">{at.before.says}</dd>
      {/if}
      {#if at.otherName}
        <dt class="text-soft">{at.otherName}</dt>
        <dd class="figure">{at.other || 'not read yet'}</dd>
      {/if}
      {#if at.slope}
        <dt class="text-soft">{at.turn}</dt>
        <dd>{at.slope.says}</dd>
      {/if}
    </dl>
    {#if readings.length > 0}
      <h2 class="lead mt-1">Read</h2>
      <ul class="figure text-small" aria-label="Readings">
        {#each readings as r (r.id)}
          <li class={['flex gap-3', r.earlier && 'text-soft']}>
            <span class="text-soft w-16 flex-none whitespace-nowrap">{when(r.at)}</span><span
              class={r.verdict === 'low' || r.verdict === 'high' ? 'text-fault' : ''}
              >{r.value}{r.verdict === 'high' ? ' ▲' : r.verdict === 'low' ? ' ▼' : ''}</span
            >{#if r.place}<span class="text-soft">at {r.place}</span>{/if}{#if r.earlier}<span class="font-sans"
                >before the repair</span
              >{/if}
          </li>
        {/each}
      </ul>
    {/if}
  </div>
</div>
{#if !menu && !searched && at.sought !== 'by eye' && at.sought !== 'by ear'}<div class="mt-2">
    <Course {at} clock={it.clock} />
  </div>{/if}

{#if !closed}
  <div class="mt-3 flex flex-wrap items-center gap-2">
    <Button size="sm" onclick={() => void it.leave()}>Leave it so <Key of="leave" /></Button>
    {#if it.kept.view?.meter && !menu}
      <Button size="sm" color="alternative" aria-pressed={it.watching} onclick={() => (it.watching = !it.watching)}
        ><Key of="watch" />{it.watching ? 'No more of the meter' : `Watch the ${it.kept.view.meter}`}</Button
      >
      {#if seen}<Button size="sm" color="alternative" onclick={() => it.keepSeen(seen)}
          ><Key of="keep" />Keep {seen}</Button
        >{/if}
    {/if}
    {#if at.after && (at.after.verdict === 'low' || at.after.verdict === 'high')}
      <input
        bind:this={reason}
        class="border-line bg-panel min-w-48 flex-1 rounded-md border-2 px-3 py-1"
        autocomplete="off"
        aria-label="Why it is left so"
        placeholder="why it is left so, though it is {at.after.verdict}"
        bind:value={it.why}
        onkeydown={(e) => {
          leaving(e);
          if (e.key === 'Enter') void it.leave();
        }}
      />
    {/if}
  </div>
{/if}

<script lang="ts">
  import { Button, Kbd } from 'flowbite-svelte';
  import type { ClosingStanding, ClosingView } from '../api/types.gen';
  import { when } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import { spent } from '../shared/keys.svelte';
  import type { Closings } from './closing.svelte';

  /** One closing measurement at hand: how it is made, what is read, before and after. */
  interface Props {
    it: Closings;
    view: ClosingView;
    at: ClosingStanding;
    closed: boolean;
    field: HTMLInputElement | undefined;
    reason: HTMLInputElement | undefined;
    onedit: () => void;
  }
  let { it, view, at, closed, field = $bindable(), reason = $bindable(), onedit }: Props = $props();

  const off = $derived(it.echo ? it.echo.verdict !== 'right' && it.echo.verdict !== '' : at.state === 'off');
  const leaving = (e: KeyboardEvent) => {
    if (e.key === 'Escape') (e.currentTarget as HTMLElement).blur();
  };
  async function log() {
    field?.blur(); // the next key is a command again
    if (!(await it.log())) field?.focus();
  }
</script>

<h2 class="lead">{at.name}</h2>
<p class="text-say font-semibold text-pretty" data-test="how">{at.how}</p>
{#if at.bounds}
  <p class="mt-1">
    <b class="figure">{at.bounds}</b>{#if at.usual}<span class="text-soft">; the sheet states none, this is usual</span
      >{/if}
  </p>
{/if}
{#if at.note}<p class="text-soft mt-1 text-pretty">{at.note}</p>{/if}
{#if at.conditions.length > 0}<p class="mt-1"><span class="text-soft">With</span> {at.conditions.join('; ')}</p>{/if}
{#if at.cautions.length > 0}
  <ul class="border-hazard my-2 border-l-4 pl-3" aria-label="Cautions">
    {#each at.cautions as c (c)}<li class="py-0.5 text-pretty">{c}</li>{/each}
  </ul>
{/if}
{#if !closed}
  {#if at.cell}
    <div class="mt-3 flex flex-wrap gap-2">
      {#each at.cell.words as word, i (word)}
        <Button size="sm" color={word === 'ok' ? undefined : 'alternative'} onclick={() => void it.log(word)}
          ><Kbd
            class="in-[.text-white]:border-current in-[.text-white]:text-inherit dark:in-[.text-white]:border-current dark:in-[.text-white]:text-inherit"
            >{i + 1}</Kbd
          >&nbsp;{word}</Button
        >
      {/each}
    </div>
  {:else}
    <form
      class="mt-3"
      onsubmit={(e) => {
        e.preventDefault();
        void log();
      }}
    >
      <label
        ><span class="text-small text-soft">{at.works ? 'How it is' : 'What is read'}</span>
        <input
          bind:this={field}
          class="border-ink bg-panel figure text-entry w-full rounded-lg border-2 px-3 py-0.5"
          autocomplete="off"
          enterkeyhint="done"
          placeholder={at.example}
          title={at.hint}
          bind:value={it.text}
          oninput={() => it.type()}
          onkeydown={leaving}
          onbeforeinput={(e) => spent.input(e)}
        /></label
      >
      <p class="min-h-6 font-semibold" role="status" data-test="echo">
        {#if it.wrong}<span class="text-fault">{it.wrong}</span>{:else if it.echo}<span class={off ? 'text-fault' : ''}
            >{it.echo.says}{it.echo.verdict === '' ? ': say good or bad behind it' : `: ${it.echo.verdict}`}</span
          >{:else}<span class="text-small text-soft font-normal">{at.hint}</span>{/if}
      </p>
      <div class="mt-1 flex flex-wrap gap-2">
        {#if at.works || at.bounds === ''}
          <Button size="sm" onclick={() => void it.good()}>Good <Key of="good" /></Button>
        {/if}
        {#if at.steps && view.meter}
          <Button size="sm" color="alternative" disabled={it.taking} onclick={() => void it.take()}
            ><Key of="take" />{it.taking ? 'It is being read' : `By the ${view.meter}`}</Button
          >
        {/if}
        <Button type="submit" size="sm" color="alternative" disabled={it.text.trim() === ''}>Keep it</Button>
      </div>
    </form>
  {/if}
{/if}
{#if it.kept.trouble}
  <p class="border-fault text-fault mt-2 border-l-4 pl-3 font-semibold" role="alert">{it.kept.trouble}</p>
{/if}
<dl class="mt-4 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
  {#each [['before', at.before], ['now', at.after]] as const as [word, r] (word)}
    {#if r}
      <dt class="text-soft">{word}</dt>
      <dd class="figure min-w-0 text-pretty" data-test={word}>
        {r.says}{#if r.at}<span class="text-small text-soft block font-sans">{when(r.at)}{r.by ? `, ${r.by}` : ''}</span
          >{/if}
      </dd>
    {/if}
  {/each}
</dl>
{#if at.doubt}<p class="text-fault mt-1 font-semibold">{at.doubt}</p>{/if}
{#if at.state === 'off' && at.cell}
  <p class="mt-1"><a class="underline" href="#/jobs/{view.number}">Trace it at the bench</a>: it is noted there.</p>
{/if}
{#if !closed}
  <form
    class="mt-4 flex flex-wrap gap-2"
    onsubmit={async (e) => {
      e.preventDefault();
      if (await it.without()) reason?.blur();
    }}
  >
    <input
      bind:this={reason}
      class="border-line bg-panel min-w-0 flex-1 basis-48 rounded-md border-2 px-2 py-1"
      aria-label="Why it is done without"
      autocomplete="off"
      placeholder="not made, because"
      bind:value={it.why}
      onkeydown={leaving}
    />
    <Button type="submit" size="xs" color="alternative" disabled={it.why.trim() === ''}
      ><Key of="without" />Do without</Button
    >
  </form>
  {#if !at.cell}
    <Button class="mt-2" size="xs" color="alternative" onclick={onedit}><Key of="edit" />How it is measured</Button>
  {/if}
{/if}

<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { SoakView } from '../api/types.gen';
  import Key from '../shared/Key.svelte';
  import { spent } from '../shared/keys.svelte';
  import { sound } from '../sound/sound.svelte';
  import type { Proving } from './proving.svelte';
  import { clock } from './time';

  /** What is said of it now, what can be done, and the plan with how far it is. */
  interface Props {
    it: Proving;
    view: SoakView;
    closed: boolean;
    field: HTMLInputElement | undefined;
    noting: HTMLInputElement | undefined;
  }
  let { it, view, closed, field = $bindable(), noting = $bindable() }: Props = $props();

  const state = $derived(view.state);
  const begins = (i: number) => (i === 0 ? 0 : (view.ends[i - 1] ?? 0));
  const events = $derived(view.events.toReversed());
  /** Why the drive stands still, where it does. */
  const stopped = $derived(
    view.running && !view.driven && !state.bad ? events.find((e) => e.what === 'stopped')?.text : undefined,
  );
  const sentence = (text: string) => `${text[0]?.toUpperCase() ?? ''}${text.slice(1)}.`;
  const headline = $derived(
    stopped !== undefined
      ? sentence(stopped)
      : view.running || view.ended === ''
        ? state.headline
        : sentence(view.ended),
  );
</script>

<h2 class="lead">{view.running ? 'Now' : 'It is over'}</h2>
<p
  class={['text-say font-semibold text-pretty', ((state.bad && view.running) || stopped) && 'text-fault']}
  data-test="headline"
  aria-live="polite"
>
  {headline}
</p>
{#if !view.running}<p class={['mt-1 font-semibold', state.bad && 'text-fault']} data-test="last">
    {state.headline}
  </p>{/if}
{#if state.why || state.look}<p class="mt-1 text-pretty">{state.why} {state.look}</p>{/if}
{#if it.kept.trouble}
  <p class="border-fault text-fault mt-2 border-l-4 pl-3 font-semibold" role="alert">{it.kept.trouble}</p>
{/if}
{#if view.running && !closed}
  <div class="mt-3 flex flex-wrap gap-2">
    {#if view.driven}
      <Button size="sm" color={state.bad ? undefined : 'alternative'} onclick={() => void it.do('stop')}
        >Stop the drive <Key of="stop" /></Button
      >
    {:else}
      <Button size="sm" onclick={() => void it.do('on')}>Let it go on <Key of="on" /></Button>
    {/if}
    <Button size="sm" color="alternative" onclick={() => void it.do('end')}>End it <Key of="end" /></Button>
  </div>
  {#if it.due !== '' && !it.sounding}
    <p class="text-fault mt-2 font-semibold" data-test="mute">
      Nothing is played: its signal comes from this computer’s sound, while this page is open.
      {sound.trouble}
    </p>
    <Button class="mt-1" size="sm" onclick={() => it.play()}>Play it <Key of="play" /></Button>
  {/if}
  <p class="text-small text-soft mt-1" data-test="drive">
    {view.driven
      ? view.feeding
        ? `fed in now: ${view.feeding}`
        : 'nothing is fed in now'
      : 'the drive is stopped; it is logged still'}
  </p>
  {#if it.typed}
    <form
      class="mt-3"
      onsubmit={async (e) => {
        e.preventDefault();
        field?.blur();
        if (!(await it.type())) field?.focus();
      }}
    >
      <label
        ><span class={it.typed.due ? 'text-measured font-semibold' : 'text-soft'}
          >{it.typed.name}{it.typed.due ? ': read it now' : ''}</span
        >
        <input
          bind:this={field}
          class="border-ink bg-panel figure text-entry w-full rounded-lg border-2 px-3 py-0.5"
          autocomplete="off"
          enterkeyhint="done"
          placeholder={it.typed.unit === '°C' ? '42 °C' : `1 ${it.typed.unit}`}
          bind:value={it.text}
          onkeydown={(e) => {
            if (e.key === 'Escape') e.currentTarget.blur();
          }}
          onbeforeinput={(e) => spent.input(e)}
        /></label
      >
    </form>
  {/if}
{/if}
<h2 class="lead mt-4">The plan</h2>
<ol aria-label="Steps">
  {#each view.plan.steps as step, i (i)}
    {@const here = view.running && i === view.step}
    {@const over = state.t >= (view.ends[i] ?? 0)}
    <li class={['border-rule grid grid-cols-[20px_1fr_auto] gap-x-2 border-t py-1.5', here && 'font-semibold']}>
      <span aria-label={over ? 'done' : here ? 'now' : ''}>{over ? '✓' : here ? '▸' : ''}</span>
      <span class="min-w-0"
        >{step.name || step.do}{#if step.note}<span class="text-small text-soft block font-normal">{step.note}</span
          >{/if}</span
      >
      <span class={['figure', !here && 'text-soft']}
        >{here ? `${clock(state.t - begins(i))} of ` : ''}{clock(step.minutes * 60)}</span
      >
    </li>
  {/each}
  <li class="border-rule border-t py-1.5">
    <a class="flex justify-between gap-2 pl-[28px]" href="#/jobs/{view.number}/prove/closing"
      ><span class="underline">Closing measurements</span><Key of="closing" /></a
    >
  </li>
</ol>
{#if !closed}
  <form
    class="mt-3 flex gap-2"
    onsubmit={async (e) => {
      e.preventDefault();
      if (it.note.trim() !== '' && (await it.do('note', it.note))) {
        it.note = '';
        noting?.blur();
      }
    }}
  >
    {#if view.running}
      <input
        bind:this={noting}
        class="border-line bg-panel min-w-0 flex-1 rounded-md border-2 px-2 py-1"
        aria-label="A note"
        autocomplete="off"
        placeholder="fan taped off; tapped along the board"
        bind:value={it.note}
        onkeydown={(e) => {
          if (e.key === 'Escape') e.currentTarget.blur();
        }}
      />
      <Button type="submit" size="xs" color="alternative">Note it <Key of="note" /></Button>
    {/if}
  </form>
{/if}
{#if events.length > 0}
  <h2 class="lead mt-3">What happened</h2>
  <ul aria-label="Events">
    {#each events as e, i (i)}
      <li class="border-rule grid grid-cols-[52px_1fr] gap-x-2 border-t py-1">
        <span class="figure text-soft">{clock(e.t)}</span><span
          class={['min-w-0 text-pretty', (e.what === 'limit' || e.what === 'foreseen') && 'text-fault font-semibold']}
          >{e.text}</span
        >
      </li>
    {/each}
  </ul>
{/if}

<script lang="ts">
  import { onMount, type Snippet } from 'svelte';
  import { Button, Kbd } from 'flowbite-svelte';
  import { link, push } from 'svelte-spa-router';
  import { api } from '../api/client';
  import type { Head } from '../api/types.gen';
  import { helpOf, press, type Commands } from './commands';
  import { Going, held, spent, taken } from './keys.svelte';
  import KeysHelp from './KeysHelp.svelte';
  import LooseCheck from '../inside/LooseCheck.svelte';
  import { follow } from './follow';
  import Logo from './Logo.svelte';
  import Modal from './Modal.svelte';
  import SumDialog from './SumDialog.svelte';
  import PowerDialog from './PowerDialog.svelte';
  import PowerSign from './PowerSign.svelte';
  import { practice, practising } from '../practise/practising';
  import { theme } from './theme.svelte';
  import Tray from './Tray.svelte';
  import { viewsOf } from './views';
  import Who from './Who.svelte';

  /** The frame of every view of a job: the set, its power state, the views. */
  interface Props {
    head: Head;
    here: string;
    commands: Commands;
    /** Something of the job has changed, here or on another bench: look again. */
    again: () => void;
    actions?: Snippet;
    children: Snippet;
  }
  let { head, here, commands, again, actions, children }: Props = $props();

  let powering = $state(false);
  let saving = $state(false);
  let drilling = $state(false);
  const strip = practising ? import('../practise/Strip.svelte') : null; // in practice alone

  // A finished job is worked again in practice.
  const replay = $derived(practising || head.finished === null ? '' : `${practice}?job=${String(head.number)}`);

  const views = $derived([{ key: '0', name: practising ? 'Practise' : 'Shelf', href: '/' }, ...viewsOf(head)]);
  const going = new Going(
    () => views,
    (href) => void push(href),
    () => theme.toggle(),
  );

  onMount(() => held.frame());
  const number = $derived(head.number); // a job looked at again is the same one
  $effect(() => follow(number, () => again()));

  function onkeydown(event: KeyboardEvent) {
    if (taken(event)) return;
    if (event.key === 'o') powering = true;
    else if (practising && event.key === ',') drilling = true;
    else if (replay && event.key === ',') location.assign(replay);
    else if (!going.press(event) && !press(commands, event)) return;
    spent.by(event);
  }
</script>

<svelte:window {onkeydown} />

<div class="flex min-h-full flex-col lg:h-full lg:overflow-hidden">
  <header
    class="border-line bg-panel flex min-h-[56px] flex-none flex-wrap items-center gap-x-[18px] gap-y-1 border-b px-[18px] py-1"
  >
    <a use:link href="/" aria-label={practising ? 'To practice' : 'To the shelf'}><Logo /></a>
    <h1 class="text-name font-bold">{head.set}</h1>
    <span class="text-soft">No. {head.number}</span>
    <button
      type="button"
      class="border-line rounded-md border px-2 py-0.5"
      title={head.power.says}
      onclick={() => (powering = true)}
    >
      <PowerSign state={head.power.state} />
      {#if head.finished !== null && (head.power.state === 'live' || head.power.state === 'standby')}
        <span class="text-small text-soft">when it was finished</span>
      {/if}
    </button>
    <span class="text-soft min-w-0 flex-1 basis-60 truncate" title={head.complaint}>“{head.complaint}”</span>
    {@render actions?.()}
    <Who />
    {#if replay}
      <a
        class="text-soft border-line hover:text-ink rounded-md border px-2 py-0.5 whitespace-nowrap"
        href={replay}
        title="a set with what was wrong with this one, to practise on; its owner is left out"
        ><Kbd>,</Kbd> Practise on it</a
      >
    {/if}
    {#if head.owned}
      <button
        type="button"
        class="text-soft border-line hover:text-ink rounded-md border px-2 py-0.5 whitespace-nowrap"
        title="the whole job with its sheet as one file, to keep or to open elsewhere"
        onclick={() => (saving = true)}>Save a copy</button
      >
    {:else}
      <a
        class="text-soft border-line hover:text-ink rounded-md border px-2 py-0.5 whitespace-nowrap"
        href={api.jobFile(head.number)}
        download
        title="the whole job with its sheet as one file, to keep or to open elsewhere">Save a copy</a
      >
    {/if}
  </header>
  {#await strip then it}{#if it}<it.default {head} {again} bind:open={drilling} />{/if}{/await}
  {#if head.problems.length > 0}
    {@const first = head.problems[0]}
    <p class="border-fault bg-wash flex-none border-b-2 px-[18px] py-1" role="status" data-test="problems">
      <b
        >{head.problems.length === 1 ? 'One cell' : `${head.problems.length} cells`} of the sheet cannot be read; what needs
        {head.problems.length === 1 ? 'it' : 'them'} is left out.</b
      >
      {first?.where}: {first?.message}.
      <a use:link href="/sheets/{head.sheetId}" class="underline">Mend the sheet</a>
    </p>
  {/if}
  <div class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] grid-rows-[1fr]">{@render children()}</div>
  <Tray {views} {here} />
</div>
{#if saving}
  <Modal title="Save a copy" bind:open={saving} size="sm">
    <p>The job says whose the set is. Does the copy?</p>
    <div class="mt-3 flex flex-wrap gap-2">
      <Button size="sm" href={api.jobFile(head.number, { owner: 'out' })} download onclick={() => (saving = false)}
        >Leave the owner out</Button
      >
      <Button size="sm" color="alternative" href={api.jobFile(head.number)} download onclick={() => (saving = false)}
        >With the owner</Button
      >
    </div>
  </Modal>
{/if}
<PowerDialog {head} bind:open={powering} onpower={again} />
<KeysHelp keys={helpOf(commands)} of="job" />
<SumDialog />
<LooseCheck />

<script lang="ts">
  import { onMount, type Snippet } from 'svelte';
  import { link, push } from 'svelte-spa-router';
  import { helpOf, press, type Commands } from './commands';
  import { Going, held, spent, taken } from './keys.svelte';
  import KeysHelp from './KeysHelp.svelte';
  import LooseCheck from '../inside/LooseCheck.svelte';
  import Logo from './Logo.svelte';
  import { practising, workshop } from '../practise/practising';
  import SumDialog from './SumDialog.svelte';
  import { theme } from './theme.svelte';
  import Tray from './Tray.svelte';
  import Who from './Who.svelte';

  /** The frame of the screens that belong to no job: shelf and sheets. */
  interface Props {
    title: string;
    here: string;
    actions?: Snippet;
    children: Snippet;
    commands?: Commands;
  }
  let { title, here, actions, children, commands = {} }: Props = $props();

  const views = practising
    ? [{ key: '0', name: 'Practise', href: '/' }]
    : [
        { key: '0', name: 'Shelf', href: '/' },
        { key: '1', name: 'Sheets', href: '/sheets' },
      ];
  const going = new Going(
    () => views,
    (href) => void push(href),
    () => theme.toggle(),
  );

  onMount(() => held.frame());

  function onkeydown(event: KeyboardEvent) {
    if (taken(event)) return;
    if (going.press(event) || press(commands, event)) spent.by(event);
  }
</script>

<svelte:window {onkeydown} />

<div class="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[auto_1fr_auto]">
  <header
    class="border-line bg-panel flex min-h-[56px] flex-wrap items-center gap-x-[18px] gap-y-1 border-b px-[18px] py-1.5"
  >
    <a use:link href="/" aria-label="To the shelf"><Logo /></a>
    <h1 class="text-name font-bold">{title}</h1>
    <span class="ml-auto flex flex-wrap gap-2"
      >{@render actions?.()}{#if practising}<a
          class="border-line text-soft hover:text-ink self-center rounded-md border px-2 py-0.5"
          href={workshop}>Back to the workshop</a
        >{/if}<Who /></span
    >
  </header>
  <main class="min-h-0 overflow-y-auto">{@render children()}</main>
  <Tray {views} {here} />
</div>
<KeysHelp keys={helpOf(commands)} />
<SumDialog />
<LooseCheck />

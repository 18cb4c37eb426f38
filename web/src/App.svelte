<script lang="ts">
  import { Kbd, ThemeProvider } from 'flowbite-svelte';
  import Router from 'svelte-spa-router';
  import { wrap } from 'svelte-spa-router/wrap';
  import { told } from './api/client';
  import Send from './board/Send.svelte';
  import SheetBoard from './board/SheetBoard.svelte';
  import Broken from './shared/Broken.svelte';
  import { controls } from './shared/controls';
  import { held, spent } from './shared/keys.svelte';
  import ModelPage from './past/ModelPage.svelte';
  import Nowhere from './shared/Nowhere.svelte';
  import { places } from './shared/views';
  import NewJob from './shelf/NewJob.svelte';
  import Shelf from './shelf/Shelf.svelte';
  import { practising } from './practise/practising';
  import SheetList from './sheets/SheetList.svelte';
  import { sound } from './sound/sound.svelte';

  // The pages of practice come when they are asked for: the first page is small.
  const practise = wrap({ asyncComponent: () => import('./practise/Practise.svelte') });
  const routes = {
    '/': practising ? practise : Shelf,
    '/jobs/new': NewJob,
    ...Object.fromEntries(places.map((p) => [p.route, p.screen])),
    '/quick': wrap({ asyncComponent: () => import('./practise/Quick.svelte') }),
    '/course': wrap({ asyncComponent: () => import('./practise/Course.svelte') }),
    '/class': wrap({ asyncComponent: () => import('./practise/Class.svelte') }),
    '/sheets': SheetList,
    '/sheets/:id/pictures': SheetBoard,
    '/sheets/:id/past': ModelPage,
    '/send': Send,
    '*': Nowhere,
  };

  // A screen that breaks while it is drawn is replaced by a way back; what breaks on a key or a click is told below it.
  let broke = $state('');
  function tell(error: unknown) {
    broke = told(error);
  }
</script>

<!-- What is played into a set can be muted from everywhere, dialogs too; only in a field z is a letter. -->
<svelte:window
  onerror={(event: Event) => {
    // Sizes that settle a frame later are no mistake, though browsers report them as one, without an error.
    if (event instanceof ErrorEvent && event.error) tell(event.error);
  }}
  onunhandledrejection={(event) => tell(event.reason)}
  onhashchange={() => (broke = '')}
  onkeypress={(event) => {
    spent.press(event);
    held.press(event);
  }}
  onbeforeinput={(event) => spent.input(event)}
  onkeyup={(event) => {
    spent.up();
    held.up(event);
  }}
  onkeydown={(event) => {
    held.by(event);
    const field = event.target instanceof Element && event.target.closest('input, textarea, select') !== null;
    if (sound.playing === '' || event.key !== 'z' || field || event.ctrlKey || event.metaKey) return;
    sound.mute();
    event.preventDefault();
  }}
/>

<ThemeProvider theme={controls}>
  <svelte:boundary onerror={(error) => console.error(error)}>
    <Router {routes} />
    {#snippet failed(error, reset)}<Broken {error} again={reset} />{/snippet}
  </svelte:boundary>
  {#if broke}
    <div
      class="no-print border-fault bg-panel text-ink fixed bottom-16 left-4 z-30 flex max-w-xl items-center gap-3 rounded-md border-2 px-3 py-1.5"
      role="alert"
    >
      <span>That did not work: {broke}. What was confirmed is safe; load the page again.</span>
      <button type="button" class="font-semibold underline" onclick={() => location.reload()}>Load</button>
      <button type="button" class="underline" onclick={() => (broke = '')}>Close</button>
    </div>
  {/if}
  {#if sound.playing}
    <div
      class="no-print border-measured bg-panel text-ink fixed right-4 bottom-16 z-30 flex items-center gap-3 rounded-md border-2 px-3 py-1.5"
    >
      <span role="status" data-test="sounding">{sound.muted ? 'Muted' : 'Playing'}: {sound.playing}.</span>
      <button type="button" class="font-semibold underline" onclick={() => sound.mute()}
        >{sound.muted ? 'Sound again' : 'Mute'} <Kbd>z</Kbd></button
      >
      <button type="button" class="underline" onclick={() => sound.stop()}>Stop</button>
    </div>
  {/if}
</ThemeProvider>

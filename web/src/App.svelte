<script lang="ts">
  import { ThemeProvider } from 'flowbite-svelte';
  import Router from 'svelte-spa-router';
  import BenchScreen from './bench/BenchScreen.svelte';
  import { controls } from './shared/controls';
  import Nowhere from './shared/Nowhere.svelte';
  import NewJob from './shelf/NewJob.svelte';
  import Shelf from './shelf/Shelf.svelte';
  import SheetList from './sheets/SheetList.svelte';
  import SheetScreen from './sheets/SheetScreen.svelte';

  const routes = {
    '/': Shelf,
    '/jobs/new': NewJob,
    '/jobs/:number': BenchScreen,
    '/sheets': SheetList,
    '/sheets/:id': SheetScreen,
    '*': Nowhere,
  };
</script>

<ThemeProvider theme={controls}>
  <Router {routes} />
</ThemeProvider>

<script lang="ts">
  import { ThemeProvider } from 'flowbite-svelte';
  import Router from 'svelte-spa-router';
  import BenchScreen from './bench/BenchScreen.svelte';
  import IntakeScreen from './intake/IntakeScreen.svelte';
  import SafetyScreen from './safety/SafetyScreen.svelte';
  import { controls } from './shared/controls';
  import Nowhere from './shared/Nowhere.svelte';
  import NewJob from './shelf/NewJob.svelte';
  import Shelf from './shelf/Shelf.svelte';
  import SheetList from './sheets/SheetList.svelte';
  import StripScreen from './strip/StripScreen.svelte';
  import SuppliesScreen from './supplies/SuppliesScreen.svelte';
  import SignalsScreen from './signals/SignalsScreen.svelte';
  import SheetScreen from './sheets/SheetScreen.svelte';

  const routes = {
    '/': Shelf,
    '/jobs/new': NewJob,
    '/jobs/:number': BenchScreen,
    '/jobs/:number/intake': IntakeScreen,
    '/jobs/:number/safe': SafetyScreen,
    '/jobs/:number/open': StripScreen,
    '/jobs/:number/supplies': SuppliesScreen,
    '/jobs/:number/signals/:capture?': SignalsScreen,
    '/sheets': SheetList,
    '/sheets/:id': SheetScreen,
    '*': Nowhere,
  };
</script>

<ThemeProvider theme={controls}>
  <Router {routes} />
</ThemeProvider>

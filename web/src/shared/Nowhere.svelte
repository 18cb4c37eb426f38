<script lang="ts">
  import { link } from 'svelte-spa-router';
  import Logo from './Logo.svelte';

  let { title = 'There is no such page', text = 'The address may be mistyped, or come from another workshop.' } =
    $props();
</script>

<main class="mx-auto flex h-full max-w-xl flex-col justify-center gap-3 p-6">
  <Logo />
  <h1 class="text-say font-semibold">{title}</h1>
  <p>{text}</p>
  <p><a use:link href="/" class="text-measured underline">To the shelf of jobs</a></p>
</main>

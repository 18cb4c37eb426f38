<script lang="ts">
  import { Kbd } from 'flowbite-svelte';
  import { keys } from './commands';
  import { wayTo } from './views';

  /** The key of a command of this screen, or the keys to a view. */
  let { of = '', to = '' }: { of?: string; to?: string } = $props();

  const keyOf = keys();
  const shown = $derived(to === '' ? keyOf(of) : wayTo(to));
</script>

{#if shown}
  <Kbd
    class="in-[.text-white]:border-current in-[.text-white]:text-inherit dark:in-[.text-white]:border-current dark:in-[.text-white]:text-inherit"
    >{shown}</Kbd
  >
{/if}

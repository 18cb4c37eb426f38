<script lang="ts">
  import { Kbd } from 'flowbite-svelte';
  import { link } from 'svelte-spa-router';
  import { help } from './keys.svelte';
  import { theme } from './theme.svelte';

  /** The views reachable from here; the key is pressed after g. */
  let { views, here }: { views: { key: string; name: string; href: string }[]; here: string } = $props();
</script>

<nav
  class="no-print border-line bg-panel sticky bottom-0 z-20 flex items-stretch overflow-x-auto border-t px-3"
  aria-label="Views"
>
  {#each views as view (view.key)}
    <a
      use:link
      href={view.href}
      class={[
        '-mt-px flex h-[50px] items-center gap-2 border-t-3 px-3.5 whitespace-nowrap',
        view.name === here ? 'border-measured text-ink font-semibold' : 'text-soft border-transparent',
      ]}
      aria-current={view.name === here ? 'page' : undefined}
    >
      <Kbd>{view.key}</Kbd>{view.name}
    </a>
  {/each}
  <span class="ml-auto flex items-center">
    <button
      type="button"
      class="text-soft flex h-[50px] items-center gap-2 px-3 whitespace-nowrap"
      onclick={() => theme.toggle()}
    >
      <Kbd>d</Kbd>{theme.dark ? 'Light' : 'Dark'}
    </button>
    <button
      type="button"
      class="text-soft flex h-[50px] items-center gap-2 px-3 whitespace-nowrap"
      onclick={() => (help.shown = true)}
    >
      <Kbd>?</Kbd>Keys
    </button>
  </span>
</nav>

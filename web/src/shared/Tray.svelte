<script lang="ts">
  import { tick } from 'svelte';
  import { Kbd } from 'flowbite-svelte';
  import { link } from 'svelte-spa-router';
  import { checking, help, sums } from './keys.svelte';
  import Modal from './Modal.svelte';
  import { theme } from './theme.svelte';

  /** The views reachable from here; the key is pressed after g. What is done is quieter than what is next. */
  interface View {
    key: string;
    name: string;
    href: string;
    done?: boolean;
    next?: boolean;
    count?: number;
    aside?: boolean;
  }
  let { views, here }: { views: View[]; here: string } = $props();

  const roomy = 4; // so many views leave room for the sums
  let choosing = $state(false); // where there is no room for all
  let strip: HTMLElement | undefined = $state();
  const current = $derived(views.find((v) => v.name === here));
  const next = $derived(views.find((v) => v.next && v.name !== here));
  // Where not all have room, they stand closer, and the views whose work is done keep their keys alone (1), as do the
  // keys that every view has (2); then what helps beside the order of the work (3), and where that is not enough, those to
  // come as well (4). The present one stays in sight.
  let width = $state(0);
  let brief = $state(0);
  async function fit() {
    for (const level of [0, 1, 2, 3, 4]) {
      brief = level;
      await tick();
      if (!strip || strip.scrollWidth <= strip.clientWidth) break;
    }
    strip?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }
  $effect(() => {
    void [width, here, views];
    void fit();
  });
  const named = (view: View) =>
    brief === 0 ||
    (brief < 3 && !view.done) ||
    (brief === 3 && !view.done && !view.aside) ||
    view.name === here ||
    view.next === true;
  const looks = (view: View) => [
    view.name === here
      ? 'border-measured text-ink font-semibold'
      : view.next
        ? 'text-ink border-expect border-dashed'
        : 'text-soft border-transparent',
  ];
</script>

{#snippet standing(view: View)}
  {#if view.done}<svg width="12" height="10" role="img" aria-label="done"
      ><path d="M1 5l3.5 4L11 1" fill="none" class="stroke-expect" stroke-width="2" /></svg
    >{:else if view.next && view.name !== here}<span class="text-expect text-small font-semibold">next</span>{/if}
{/snippet}

<nav
  class="no-print border-line bg-panel sticky bottom-0 z-20 hidden items-stretch border-t px-1 sm:flex"
  aria-label="Views"
>
  <span class="text-soft flex flex-none items-center pl-1" title="g, then the key of a view">
    <Kbd>g</Kbd>
  </span>
  <span class="flex min-w-0 flex-1 items-stretch overflow-x-auto" bind:this={strip} bind:clientWidth={width}>
    {#each views as view (view.key)}
      <a
        use:link
        href={view.href}
        class={[
          '-mt-px flex h-[50px] items-center gap-1 border-t-3 whitespace-nowrap',
          brief === 0 ? 'px-2' : 'px-1',
          looks(view),
        ]}
        aria-current={view.name === here ? 'page' : undefined}
        title={[named(view) ? '' : view.name, view.count ? `${view.count} noted` : ''].filter(Boolean).join(', ') ||
          undefined}
      >
        <Kbd>{view.key}</Kbd><span class={named(view) ? '' : 'sr-only'}>{view.name}</span>{@render standing(view)}
      </a>
    {/each}
  </span>
  {#if views.length <= roomy}
    <button
      type="button"
      class="text-soft flex h-[50px] flex-none items-center gap-1 px-2 whitespace-nowrap"
      title="a sum as one speaks it, or whether one part goes in the place of another"
      onclick={() => (sums.shown = true)}
    >
      <Kbd>=</Kbd>Sum
    </button>
    <button
      type="button"
      class="text-soft flex h-[50px] flex-none items-center gap-1 px-2 whitespace-nowrap"
      title="is this part good? any part by its readings"
      onclick={() => (checking.shown = true)}
    >
      <Kbd>!</Kbd>Part
    </button>
  {/if}
  <button
    type="button"
    class="text-soft flex h-[50px] flex-none items-center gap-1 px-2 whitespace-nowrap"
    onclick={() => theme.toggle()}
  >
    <Kbd>d</Kbd><span class={brief > 1 ? 'sr-only' : ''}>{theme.dark ? 'Light' : 'Dark'}</span>
  </button>
  <button
    type="button"
    class="text-soft flex h-[50px] flex-none items-center gap-1 px-2 whitespace-nowrap"
    onclick={() => (help.shown = true)}
  >
    <Kbd>?</Kbd><span class={brief > 1 ? 'sr-only' : ''}>Keys</span>
  </button>
</nav>

<nav
  class="no-print border-line bg-panel sticky bottom-0 z-20 flex items-stretch border-t sm:hidden"
  aria-label="Views, in brief"
>
  <button
    type="button"
    class="border-measured flex h-[54px] min-w-0 flex-1 items-center gap-2 border-t-3 px-4 font-semibold"
    aria-haspopup="dialog"
    onclick={() => (choosing = true)}
  >
    <svg width="14" height="10" aria-hidden="true"
      ><path d="M1 8l6-6 6 6" fill="none" class="stroke-ink" stroke-width="2" /></svg
    >
    <span class="truncate">{current?.name ?? 'Views'}</span>
  </button>
  {#if next}
    <a use:link href={next.href} class="text-ink border-line flex h-[54px] items-center gap-2 border-l px-4">
      <span class="text-expect text-small font-semibold">next</span>{next.name}
    </a>
  {/if}
</nav>
<Modal title="Views" bind:open={choosing} size="sm">
  <ul class="grid grid-cols-2 gap-2">
    {#each views as view (view.key)}
      <li>
        <a
          use:link
          href={view.href}
          class={['border-line flex h-12 items-center justify-between gap-2 rounded-md border-2 px-3', looks(view)]}
          aria-current={view.name === here ? 'page' : undefined}
          onclick={() => (choosing = false)}
          ><span
            >{view.name}
            {#if view.count}<span class="figure text-small text-soft">{view.count}</span>{/if}</span
          >{@render standing(view)}</a
        >
      </li>
    {/each}
    <li>
      <button
        type="button"
        class="text-soft border-line h-12 w-full rounded-md border-2 px-3 text-left"
        onclick={() => theme.toggle()}>{theme.dark ? 'Light' : 'Dark'}</button
      >
    </li>
  </ul>
</Modal>

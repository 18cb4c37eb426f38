<script lang="ts">
  import Key from './Key.svelte';

  /** Looks through a long list as it is typed. */
  interface Props {
    label: string;
    words: string;
    onsearch: (words: string) => void;
    field: HTMLInputElement | undefined;
  }
  let { label, words, onsearch, field = $bindable() }: Props = $props();
</script>

<label
  class="border-line bg-panel focus-within:border-measured flex h-10 min-w-0 items-center gap-2 rounded-md border-2 px-2.5"
>
  <svg width="16" height="16" aria-hidden="true"
    ><circle cx="6.5" cy="6.5" r="5" fill="none" class="stroke-soft" stroke-width="2" /><path
      d="M10.5 10.5L15 15"
      class="stroke-soft"
      stroke-width="2"
    /></svg
  >
  <input
    bind:this={field}
    type="search"
    class="min-w-0 flex-1 border-0 bg-transparent p-0 focus:ring-0 focus-visible:outline-none [&::-webkit-search-cancel-button]:hidden"
    aria-label={label}
    placeholder={label}
    autocomplete="off"
    value={words}
    oninput={(e) => onsearch(e.currentTarget.value)}
    onkeydown={(e) => {
      if (e.key === 'Escape' && words !== '') onsearch('');
      else if (e.key === 'Escape' || e.key === 'Enter') e.currentTarget.blur();
    }}
  />
  {#if words !== ''}
    <button type="button" class="text-soft px-1" aria-label="Clear the search" onclick={() => onsearch('')}>✕</button>
  {/if}
  <Key of="search" />
</label>

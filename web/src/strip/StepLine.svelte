<script lang="ts">
  import type { LineRead, StripSort } from '../api/types.gen';

  /** The line of a step, and what it is understood as. */
  interface Props {
    sort: StripSort | undefined;
    text: string;
    read: LineRead | null;
    trouble: string;
    field: HTMLInputElement | undefined;
    ontype: (text: string) => void;
    onlog: () => void;
  }
  let { sort, text, read, trouble, field = $bindable(), ontype, onlog }: Props = $props();
</script>

<form
  class="border-ink bg-panel focus-within:border-measured flex items-center gap-3 rounded-lg border-2 px-3 py-1"
  onsubmit={(e) => {
    e.preventDefault();
    onlog();
  }}
>
  <label for="step" class="text-soft flex-none">{sort?.name}</label>
  <input
    id="step"
    bind:this={field}
    class="text-entry min-w-0 flex-1 border-0 bg-transparent p-0 focus:ring-0 focus-visible:outline-none"
    autocomplete="off"
    enterkeyhint="done"
    placeholder={sort?.hint}
    value={text}
    oninput={(e) => ontype(e.currentTarget.value)}
    onkeydown={(e) => {
      if (e.key !== 'Escape') return;
      ontype('');
      e.currentTarget.blur();
    }}
  />
</form>
<p class="text-small text-soft min-h-[20px]" role="status">
  {#if trouble}<span class="text-fault font-semibold" role="alert">{trouble}</span>
  {:else if read?.problem}{read.problem}
  {:else if read}{read.says}{read.mind ? `; mind: ${read.mind}` : ''}
  {:else}How many, what, where, what to mind, with commas between.{/if}
</p>

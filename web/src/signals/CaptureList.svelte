<script lang="ts">
  import { link } from 'svelte-spa-router';
  import { moment, when } from '../shared/format';
  import { mostStacked, type Signals } from './signals.svelte';

  /** The captures of a job, in the order of the route. */
  let { signals, number }: { signals: Signals; number: number } = $props();

  const stacked = $derived(signals.looks.length > 1);
</script>

<section class="border-line min-w-0 overflow-y-auto p-[12px_14px] max-lg:max-h-48 lg:border-r">
  <h2 class="lead">In the order of the route</h2>
  <ul class="mt-1" aria-label="Captures">
    {#each signals.all as l (l.key)}
      {@const on = signals.shown.includes(l.key)}
      <li
        class={[
          'border-rule grid grid-cols-[minmax(0,1fr)_auto] items-center border-t first:border-0',
          on && 'bg-chip',
        ]}
      >
        <button
          type="button"
          class={['min-w-0 border-l-4 px-2 py-1 text-left', on ? 'border-measured' : 'border-transparent']}
          aria-pressed={on}
          title={moment(l.capture.taken)}
          onclick={() => void signals.show(l.key, false)}
        >
          <b class="figure block truncate">{l.point || 'no point'}</b>
          <span class="text-small text-soft block truncate"
            >{when(l.capture.taken)} {l.capture.good ? '★ good' : l.capture.channels[l.channel]?.name}</span
          >
        </button>
        <button
          type="button"
          class="text-soft px-2 py-2"
          aria-label="{on ? 'Take away' : 'Stack'} {l.point}"
          title={on ? 'take it away' : 'under the ones shown'}
          onclick={() => void signals.show(l.key, true)}>{on && stacked ? '−' : '+'}</button
        >
      </li>
    {:else}
      <li class="text-soft py-1">
        None kept yet. Drop a CSV or a WAV on the <a class="underline" use:link href="/jobs/{number}">bench</a>, or take
        one from an instrument there.
      </li>
    {/each}
  </ul>
  {#if signals.all.length > 1}
    <p class="text-small text-soft mt-2">+ stacks up to {mostStacked}, point under point, at one time scale.</p>
  {/if}
</section>

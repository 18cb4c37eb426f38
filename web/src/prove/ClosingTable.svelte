<script lang="ts">
  import type { ClosingResult, ClosingView } from '../api/types.gen';
  import Allowed from './Allowed.svelte';
  import type { Closings } from './closing.svelte';

  /** All closing measurements in their order: what was before the repair beside what is now. */
  let { it, view }: { it: Closings; view: ClosingView } = $props();

  const sign = (r: ClosingResult) =>
    r.verdict === 'high' || r.verdict === 'bad' ? ' ▲' : r.verdict === 'low' ? ' ▼' : '';
  const off = (r: ClosingResult) => sign(r) !== '';
  let rows: HTMLElement | undefined = $state();
  $effect(() => {
    // On a phone it stands below what is at hand, which stays in sight.
    if (it.at && window.matchMedia('(min-width: 1024px)').matches)
      rows?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: 'nearest' });
  });
  const cell = (r: ClosingResult | null) => (r === null ? '' : r.value);
</script>

<p class={['font-semibold text-pretty', view.off > 0 && 'text-fault']} data-test="says">{view.says}</p>
<table class="mt-2 w-full table-fixed text-left" aria-label="Closing measurements">
  <colgroup
    ><col class="w-[24px]" /><col /><col class="w-[132px] max-md:hidden" /><col class="w-[110px] max-sm:hidden" /><col
      class="w-[82px] sm:w-[112px]"
    /><col class="w-[82px] sm:w-[112px]" /></colgroup
  >
  <thead class="text-small text-soft">
    <tr
      ><th></th><th class="font-normal">Measured or tried</th><th class="text-right font-normal max-md:hidden"
        >Allowed</th
      ><th class="max-sm:hidden"></th><th class="text-right font-normal">{view.repaired ? 'Before' : ''}</th><th
        class="text-right font-normal">{view.repaired ? 'After' : 'Now'}</th
      ></tr
    >
  </thead>
  <tbody bind:this={rows}>
    {#each view.items as a (a.name)}
      {@const here = a.name === it.at?.name}
      <tr
        class={['border-rule cursor-pointer border-t', here && 'bg-ground font-semibold']}
        aria-current={here}
        onclick={() => it.choose(a.name)}
      >
        <td class="py-1.5 pl-1" aria-label={a.state}>
          {#if a.state === 'right'}<svg width="13" height="11" aria-hidden="true"
              ><path d="M1 5.5l4 4.5L12 1" fill="none" class="stroke-expect" stroke-width="2" /></svg
            >{:else if a.state === 'off'}<span class="text-fault" aria-hidden="true">▲</span>{:else if here}<span
              aria-hidden="true">▸</span
            >{/if}
        </td>
        <td class="min-w-0 py-1.5 pr-2"
          ><button type="button" class="text-left" onclick={() => it.choose(a.name)}>{a.name}</button>
          {#if a.without}<span class="text-small text-soft block font-normal">done without: {a.without}</span>{/if}
          {#if a.doubt}<span class="text-small text-fault block">{a.doubt}</span>{/if}
        </td>
        <td class="text-small text-soft figure pr-2 text-right font-normal max-md:hidden">{a.bounds}</td>
        <td class="max-sm:hidden"
          >{#if a.low !== null || a.high !== null}<Allowed {a} />{/if}</td
        >
        <td class={['figure py-1.5 text-right font-normal', a.before && off(a.before) ? 'text-fault' : 'text-soft']}
          >{cell(a.before)}{a.before ? sign(a.before) : ''}</td
        >
        <td class={['figure py-1.5 pr-1 text-right', a.after && off(a.after) ? 'text-fault' : '']}
          >{cell(a.after)}{a.after ? sign(a.after) : ''}</td
        >
      </tr>
    {/each}
  </tbody>
</table>

<script lang="ts">
  import { Kbd } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import type { WayCost } from '../api/types.gen';
  import type { Bench } from './bench.svelte';

  /** The ways of working, with what each costs from here. */
  let { bench, open = $bindable() }: { bench: Bench; open: boolean } = $props();

  const ways = $derived(bench.findings?.ways ?? []);
  const options = $derived(bench.findings?.options ?? []);
  const least = $derived(Math.min(...ways.map((w) => w.minutes)));
  const rounded = (x: number) => String(Math.round(x * 10) / 10);

  async function choose(way: WayCost['way']) {
    if (await bench.set({ way })) open = false;
  }
  function onkeydown(event: KeyboardEvent) {
    const way = open ? ways[Number(event.key) - 1] : undefined;
    if (!way) return;
    event.preventDefault();
    void choose(way.way);
  }
</script>

<svelte:window {onkeydown} />

<Modal title="Way of working" bind:open size="lg">
  {#if ways.length === 0}
    <p>Nothing is left to search for on this route.</p>
  {:else}
    <table class="w-full">
      <thead>
        <tr class="text-small text-soft text-left">
          <th class="font-normal" colspan="2">From here, on this route</th>
          <th class="pl-3 text-right font-normal">probes</th>
          <th class="pl-3 text-right font-normal">at worst</th>
          <th class="pl-3 text-right font-normal">minutes</th>
          <th class="pl-3 text-right font-normal">at worst</th>
        </tr>
      </thead>
      <tbody>
        {#each ways as way, i (way.way)}
          {@const chosen = bench.view?.way === way.way}
          <tr
            class={['border-rule hover:bg-chip cursor-pointer border-t', chosen && 'font-semibold']}
            onclick={() => void choose(way.way)}
          >
            <td class="py-1.5 pr-2"><Kbd>{i + 1}</Kbd></td>
            <td class="py-1.5">
              <button type="button" class="text-left" aria-pressed={chosen}>{chosen ? '✓ ' : ''}{way.name}</button>
              <span class="text-small text-soft block font-normal">{way.note}</span>
            </td>
            <td class="figure pl-3 text-right">{rounded(way.probes)}</td>
            <td class="figure pl-3 text-right">{way.worstProbes}</td>
            <td class={['figure text-right', way.minutes <= least + 0.05 && 'text-expect font-bold']}
              >{rounded(way.minutes)}</td
            >
            <td class="figure pl-3 text-right">{rounded(way.worstMinutes)}</td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#if options.length > 1}
      <table class="w-full" aria-label="What can be read next">
        <thead>
          <tr class="text-small text-soft text-left">
            <th class="font-normal">What can be read next</th>
            <th class="font-normal max-sm:hidden">good leaves</th>
            <th class="font-normal max-sm:hidden">bad leaves</th>
            <th class="pl-3 text-right font-normal">narrows to</th>
            <th class="pl-3 text-right font-normal">minutes</th>
            <th class="pl-3 text-right font-normal">in all</th>
          </tr>
        </thead>
        <tbody>
          {#each options as option, i (option.does)}
            <tr class={['border-rule border-t align-baseline', i === 0 && 'font-semibold']}>
              <td class="py-1 pr-2">{option.does}</td>
              <td class="pr-2 max-sm:hidden">{option.ifGood}</td>
              <td class="pr-2 max-sm:hidden">{option.ifBad}</td>
              <td class="figure pl-3 text-right">{Math.round(100 * 2 ** -option.bits)} %</td>
              <td class="figure pl-3 text-right">{rounded(option.minutes)}</td>
              <td class="figure pl-3 text-right">{rounded(option.total)}</td>
            </tr>
          {/each}
        </tbody>
      </table>
    {/if}
    <p class="text-small text-soft">
      Averages go by how likely each suspect is. Whatever you choose, you may probe anywhere: all evidence counts.
    </p>
  {/if}
  {#if bench.trouble}<p class="text-fault font-semibold" role="alert">{bench.trouble}</p>{/if}
</Modal>

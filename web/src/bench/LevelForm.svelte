<script lang="ts">
  import { Textarea } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { ChartLevel, ChartLevels, LevelText } from '../api/types.gen';
  import { Fresh } from '../shared/fresh';
  import type { Bench } from './bench.svelte';
  import ManualFoot from './ManualFoot.svelte';

  /** A level diagram, shown as it was understood, each level at the place of the sheet where it is read. */
  let { bench, modes, onclose }: { bench: Bench; modes: string[]; onclose: () => void } = $props();

  const references: { of: LevelText['reference']; says: string }[] = [
    { of: 'dBu', says: '0.775 V (dBu, old dBm)' },
    { of: 'dBV', says: '1 V (dBV)' },
    { of: 'first', says: 'the first block' },
  ];
  let text = $state('');
  let reference: LevelText['reference'] = $state('dBu');
  let read = $state.raw<ChartLevels | null>(null);
  let levels = $state<ChartLevel[]>([]);
  let mode = $state('');
  let wrong = $state('');
  const fresh = new Fresh();

  const points = $derived((bench.view?.spots ?? []).filter((s) => s.kind === 'point').map((s) => s.name));
  const taken = $derived(levels.filter((l) => l.at !== '' && l.value.trim() !== ''));

  async function look() {
    try {
      const got = await fresh.last(() => api.readLevels(bench.number, { text, reference }));
      if (got === undefined) return;
      read = got;
      levels = got.levels.map((l) => ({ ...l }));
      wrong = '';
    } catch (error) {
      wrong = told(error);
    }
  }
  async function submit(event: SubmitEvent) {
    event.preventDefault();
    if (await bench.takeChart({ levels: taken, mode })) onclose();
    else wrong = bench.trouble;
  }
</script>

<form class="flex flex-col gap-3" onsubmit={submit}>
  <Textarea
    class="figure bg-panel dark:bg-panel w-full text-base"
    rows={levels.length > 0 ? 3 : 6}
    bind:value={text}
    oninput={() => void look()}
    aria-label="The level diagram, as it is printed"
    placeholder="tuner    IF amp   volume   output&#10;-60 dB   -20 dB   -26 dB   2.8 V&#10;&#10;or  preamp  12 mV"
  />
  {#if read?.plain}
    <label class="flex flex-wrap items-center gap-2">
      Its decibels count from
      <select
        class="border-line bg-panel h-9 rounded-md border-2 py-0 pl-2"
        bind:value={reference}
        onchange={() => void look()}
      >
        {#each references as r (r.of)}<option value={r.of}>{r.says}</option>{/each}
      </select>
    </label>
  {/if}
  {#if levels.length > 0 && modes.length > 0}
    <label class="flex flex-wrap items-center gap-2">
      With the set on
      <select class="border-line bg-panel h-9 rounded-md border-2 py-0 pl-2" bind:value={mode}>
        <option value="">any</option>
        {#each modes as m (m)}<option value={m}>{m}</option>{/each}
      </select>
    </label>
  {/if}
  {#if levels.length > 0}
    <div class="max-h-[38vh] overflow-auto" data-test="levels">
      <table class="w-full">
        <thead class="text-small text-soft text-left"><tr><th>block</th><th>comes out</th><th>read at</th></tr></thead>
        <tbody>
          {#each levels as l, i (i)}
            <tr class="border-rule border-t">
              <th scope="row" class="pr-3 text-left font-semibold">{l.block}</th>
              <td class="py-1 pr-3">
                <input
                  class={[
                    'figure h-9 w-32 rounded-md border-2 px-1.5',
                    l.doubt ? 'border-hazard bg-wash' : 'border-line bg-panel',
                  ]}
                  aria-label="Level of {l.block}"
                  bind:value={l.value}
                />
                {#if l.doubt}<span class="text-small block max-w-64"
                    ><span class="text-hazard" aria-hidden="true">▲</span> {l.doubt}</span
                  >{/if}
              </td>
              <td>
                <select
                  class={['bg-panel h-9 rounded-md border-2 py-0 pl-2', l.at === '' ? 'border-hazard' : 'border-line']}
                  aria-label="Where {l.block} is read"
                  bind:value={l.at}
                >
                  <option value="">not on the sheet: left out</option>
                  {#each points as p (p)}<option value={p}>{p}</option>{/each}
                </select>
              </td>
            </tr>
          {/each}
        </tbody>
      </table>
    </div>
  {/if}
  <ManualFoot
    missed={read?.missed ?? []}
    {wrong}
    says={levels.length > 0 ? `${taken.length} of ${levels.length} levels have their place` : ''}
    ready={!bench.busy && taken.length > 0}
    {onclose}
  />
</form>

<script lang="ts">
  import { Textarea } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { ChartCell, ChartRead } from '../api/types.gen';
  import { Fresh } from '../shared/fresh';
  import Modal from '../shared/Modal.svelte';
  import Tabs from '../shared/Tabs.svelte';
  import type { Bench } from './bench.svelte';
  import LevelForm from './LevelForm.svelte';
  import ManualFoot from './ManualFoot.svelte';

  /** Takes what a manual states over, once it is shown as it was understood and mended: volts or ohms of parts, levels. */
  interface Props {
    bench: Bench;
    open: boolean;
  }
  let { bench, open = $bindable() }: Props = $props();

  let text = $state('');
  let chart = $state.raw<ChartRead | null>(null);
  let cells = $state<ChartCell[]>([]);
  let of: 'parts' | 'levels' = $state('parts');
  let under = $state<Record<string, string>>({}); // as the person said: the mode of a condition, or that it is left out
  let wrong = $state('');
  const fresh = new Fresh();

  const modes = $derived([...new Set((bench.view?.routes ?? []).map((r) => r.mode))].filter((m) => m !== ''));
  const leftOut = 'left out';
  const conditions = $derived(chart && chart.conditions.length > 0 ? chart.conditions : ['']);
  const modeOf = (condition: string) =>
    under[condition] ?? chart?.under.find((u) => u.condition === condition)?.mode ?? leftOut;
  const shown = $derived(cells.filter((c) => modeOf(c.condition) !== leftOut));
  const parts = $derived([...new Set(shown.map((c) => c.part))]);
  const doubted = $derived(shown.filter((c) => c.doubt !== '').length);
  const counted = $derived(
    `${shown.length} ${shown[0]?.quantity === 'resistance' ? 'resistances' : 'voltages'} of ${parts.length} parts${doubted > 0 ? `, ${doubted} in doubt` : ''}`,
  );

  async function read() {
    try {
      const got = await fresh.last(() => api.readChart({ text, modes }));
      if (got === undefined) return;
      chart = got;
      cells = got.cells.map((c) => ({ ...c }));
      wrong = '';
    } catch (error) {
      wrong = told(error);
    }
  }
  async function submit(event: SubmitEvent) {
    event.preventDefault();
    const taken = [...new Set(shown.map((c) => c.condition))].map((condition) => ({
      condition,
      mode: modeOf(condition),
    }));
    if (await bench.takeChart({ cells: shown, under: taken })) open = false;
    else wrong = bench.trouble;
  }
  const focus = (node: HTMLElement) => node.querySelector<HTMLElement>('textarea')?.focus();
</script>

<Modal title="From the manual" bind:open size="lg">
  <div class="mb-2">
    <Tabs
      tabs={[
        { of: 'parts', says: 'Volts or ohms of parts' },
        { of: 'levels', says: 'Levels of blocks' },
      ]}
      bind:at={of}
    />
  </div>
  {#if of === 'levels'}<div class="text-ink"><LevelForm {bench} {modes} onclose={() => (open = false)} /></div>{/if}
  <form class={['text-ink flex-col gap-3', of === 'parts' ? 'flex' : 'hidden']} onsubmit={submit} {@attach focus}>
    <Textarea
      class="figure bg-panel dark:bg-panel w-full text-base"
      rows={parts.length > 0 ? 4 : 8}
      bind:value={text}
      oninput={() => void read()}
      aria-label="The chart, as it is printed"
      placeholder="      E     B     C&#10;Q101  1.2   1.8   8.4&#10;&#10;or  Q101 E 1.2 B 1.8 C 8.4"
    />
    {#if conditions.length > 1}
      <div class="flex flex-wrap items-center gap-x-4 gap-y-1" data-test="conditions">
        {#each conditions as c (c)}
          <label class="flex items-center gap-2">
            <b>{c || 'first'}</b> holds
            <select
              class="border-line bg-panel h-9 rounded-md border-2 py-0 pl-2"
              value={modeOf(c)}
              onchange={(e) => (under = { ...under, [c]: e.currentTarget.value })}
            >
              <option value={leftOut}>nowhere: left out</option>
              <option value="">always</option>
              {#each modes as m (m)}<option value={m}>with the set on {m}</option>{/each}
            </select>
          </label>
        {/each}
      </div>
    {/if}
    {#if parts.length > 0}
      <div class="max-h-[38vh] overflow-auto" data-test="chart">
        <table>
          <tbody>
            {#each parts as part (part)}
              <tr class="border-rule border-t first:border-0">
                <th scope="row" class="figure pr-4 text-left align-top">{part}</th>
                <td class="py-1">
                  {#each conditions as condition (condition)}
                    <div class="flex flex-wrap gap-x-3 gap-y-1 py-0.5">
                      {#if conditions.length > 1 && modeOf(condition) !== leftOut}
                        <span class="text-small text-soft w-24 self-center truncate" title={condition}
                          >{condition || 'first'}</span
                        >
                      {/if}
                      {#each shown.filter((c) => c.part === part && c.condition === condition) as c, i (i)}
                        <label class="flex flex-col">
                          <span class="flex items-center gap-1.5">
                            <span class="figure text-soft min-w-4 text-right" title={c.name}>{c.leg}</span>
                            <input
                              class={[
                                'figure h-9 w-24 rounded-md border-2 px-1.5',
                                c.doubt ? 'border-hazard bg-wash' : 'border-line bg-panel',
                              ]}
                              bind:value={c.value}
                            />
                          </span>
                          {#if c.doubt}
                            <span class="text-small max-w-64">
                              <span class="text-hazard" aria-hidden="true">▲</span>
                              {c.doubt}
                              {#if c.likely}
                                <button
                                  type="button"
                                  class="underline"
                                  onclick={() => Object.assign(c, { value: c.likely, doubt: '', likely: '' })}
                                  >{c.likely}?</button
                                >
                              {/if}
                            </span>
                          {/if}
                        </label>
                      {/each}
                    </div>
                  {/each}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    {/if}
    <ManualFoot
      missed={chart?.missed ?? []}
      {wrong}
      says={shown.length > 0 ? counted : ''}
      ready={!bench.busy && shown.length > 0}
      onclose={() => (open = false)}
    />
  </form>
</Modal>

<script lang="ts">
  import { Button, Textarea } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { Chart, ChartCell } from '../api/types.gen';
  import { Fresh } from '../shared/fresh';
  import Modal from '../shared/Modal.svelte';
  import type { Bench } from './bench.svelte';

  /** Takes the voltage chart of a manual over, once it is shown as it was understood and mended. */
  interface Props {
    bench: Bench;
    open: boolean;
  }
  let { bench, open = $bindable() }: Props = $props();

  let text = $state('');
  let chart = $state.raw<Chart | null>(null);
  let cells = $state<ChartCell[]>([]);
  let condition = $state('');
  let mode = $state('');
  let wrong = $state('');
  const fresh = new Fresh();

  const modes = $derived([...new Set((bench.view?.routes ?? []).map((r) => r.mode))].filter((m) => m !== ''));
  const shown = $derived(cells.filter((c) => c.condition === condition));
  const parts = $derived([...new Set(shown.map((c) => c.part))]);
  const doubted = $derived(shown.filter((c) => c.doubt !== '').length);

  async function read() {
    try {
      const got = await fresh.last(() => api.readChart({ text }));
      if (got === undefined) return;
      chart = got;
      cells = got.cells.map((c) => ({ ...c }));
      if (!got.conditions.includes(condition)) condition = got.conditions[0] ?? '';
      wrong = '';
    } catch (error) {
      wrong = told(error);
    }
  }
  async function submit(event: SubmitEvent) {
    event.preventDefault();
    if (await bench.takeChart({ cells: shown, condition, mode })) open = false;
    else wrong = bench.trouble;
  }
  const focus = (node: HTMLElement) => node.querySelector<HTMLElement>('textarea')?.focus();
</script>

<Modal title="Voltages from the manual" bind:open size="lg">
  <form class="text-ink flex flex-col gap-3" onsubmit={submit} {@attach focus}>
    <Textarea
      class="figure bg-panel dark:bg-panel w-full text-base"
      rows={parts.length > 0 ? 4 : 8}
      bind:value={text}
      oninput={() => void read()}
      aria-label="The chart, as it is printed"
      placeholder="      E     B     C&#10;Q101  1.2   1.8   8.4&#10;&#10;or  Q101 E 1.2 B 1.8 C 8.4"
    />
    {#if chart && chart.conditions.length > 1}
      <label class="flex flex-wrap items-center gap-2">
        Under
        <select class="border-line bg-panel h-9 rounded-md border-2 py-0 pl-2" bind:value={condition}>
          {#each chart.conditions as c (c)}<option value={c}>{c}</option>{/each}
        </select>
        {#if modes.length > 0}
          which is the set on
          <select class="border-line bg-panel h-9 rounded-md border-2 py-0 pl-2" bind:value={mode}>
            <option value="">any</option>
            {#each modes as m (m)}<option value={m}>{m}</option>{/each}
          </select>
        {/if}
      </label>
    {/if}
    {#if parts.length > 0}
      <div class="max-h-[38vh] overflow-auto" data-test="chart">
        <table>
          <tbody>
            {#each parts as part (part)}
              <tr class="border-rule border-t first:border-0">
                <th scope="row" class="figure pr-4 text-left align-top">{part}</th>
                <td class="flex flex-wrap gap-x-3 gap-y-1 py-1">
                  {#each shown.filter((c) => c.part === part) as c (c.leg + c.line)}
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
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    {/if}
    {#each chart?.missed ?? [] as m (m.line + m.text)}
      <p class="text-small">Line {m.line}, <span class="figure">{m.text}</span>: {m.why}.</p>
    {/each}
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    <div class="flex flex-wrap items-center justify-end gap-3">
      {#if shown.length > 0}
        <span class="text-soft mr-auto"
          >{shown.length} voltages of {parts.length} parts{doubted > 0 ? `, ${doubted} in doubt` : ''}</span
        >
      {/if}
      <Button color="alternative" type="button" onclick={() => (open = false)}>Cancel</Button>
      <Button type="submit" disabled={bench.busy || shown.length === 0}>Take them over</Button>
    </div>
  </form>
</Modal>

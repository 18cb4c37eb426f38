<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Select } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import { api, told } from '../api/client';
  import type { CircuitAnswer } from '../api/types.gen';
  import { engineering } from '../shared/format';
  import type { Inside } from './inside.svelte';

  /** The stage's parts as a table: begun from a family, typed, or pasted. */
  let { inside, open = $bindable() }: { inside: Inside; open: boolean } = $props();

  const columns = [
    { title: 'Part', hint: 'R14', wide: 'w-20' },
    { title: 'Kind', hint: 'resistor', wide: 'w-28' },
    { title: 'Between nodes', hint: 'in; base', wide: 'w-56' },
    { title: 'Value', hint: '4k7', wide: 'w-24' },
    { title: 'Also', hint: 'gain 250', wide: 'w-44' },
    { title: 'In', hint: 'package, or outside', wide: 'w-24' },
  ];
  let rows: string[][] = $state(untrack(() => (inside.view?.circuit ?? []).map((r) => [...r])));
  let family = $state('');
  let answer: CircuitAnswer | null = $state.raw(null);
  let wrong = $state('');
  let grid: HTMLElement | undefined = $state();

  const filled = $derived(rows.filter((r) => r.some((cell) => cell.trim() !== '')));
  const shown = $derived(rows.concat([Array<string>(columns.length).fill('')]));

  function write(row: number, column: number, text: string) {
    while (rows.length <= row) rows.push(Array<string>(columns.length).fill(''));
    const cells = rows[row];
    if (cells) cells[column] = text;
  }
  function onpaste(event: ClipboardEvent, row: number, column: number) {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!/[\t\n\r]/.test(text.trim())) return;
    event.preventDefault();
    text
      .trimEnd()
      .split(/\r\n?|\n/)
      .forEach((line, i) =>
        line.split('\t').forEach((cell, k) => k + column < columns.length && write(row + i, k + column, cell.trim())),
      );
  }
  function onkeydown(event: KeyboardEvent, row: number, column: number) {
    const to = { ArrowDown: row + 1, Enter: row + 1, ArrowUp: row - 1 }[event.key];
    if (to === undefined) return;
    grid?.querySelector<HTMLInputElement>(`input[data-cell="${to}.${column}"]`)?.focus();
    event.preventDefault();
  }
  // What it comes to is there as it is typed.
  $effect(() => {
    const asked = filled.map((r) => [...r]);
    const stop = new AbortController();
    if (asked.length === 0) {
      answer = null;
      return;
    }
    const timer = setTimeout(() => {
      api.solveCircuit({ rows: asked }, stop.signal).then(
        (a) => ((answer = a), (wrong = '')),
        (error: unknown) => void (stop.signal.aborted || (wrong = told(error))),
      );
    }, 150);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  });

  async function begin() {
    if (await inside.keep([], family)) rows = (inside.view?.circuit ?? []).map((r) => [...r]);
    else wrong = inside.trouble;
  }
  async function keep() {
    if (await inside.keep(filled.map((r) => [...r]))) open = false;
    else wrong = inside.trouble;
  }
  const bad = (name: string | undefined) => answer?.problems.some((p) => p.where === name) ?? false;
</script>

<Modal title="The circuit of {inside.looked?.stage}" bind:open size="xl">
  <div class="text-ink flex flex-col gap-2">
    <div class="flex flex-wrap items-end gap-2">
      <label
        >Begin from
        <Select placeholder="" class="mt-1 w-64" bind:value={family}>
          <option value="">a family of circuits</option>
          {#each inside.view?.families ?? [] as f (f)}<option value={f}>{f}</option>{/each}
        </Select></label
      >
      <Button color="alternative" disabled={family === '' || inside.busy} onclick={begin}
        >{rows.length > 0 ? 'Put it in instead' : 'Put it in'}</Button
      >
      <p class="text-small text-soft min-w-60 flex-1">
        Nodes in the order of the kind, with ; between: the sheet's points by their names, others as you like, and
        ground. Ctrl V pastes a table.
      </p>
    </div>
    <div class="flex max-h-[46vh] gap-4">
      <div class="overflow-auto lg:shrink-0 lg:overflow-x-hidden" bind:this={grid}>
        <table class="border-collapse">
          <thead
            ><tr
              >{#each columns as c (c.title)}<th
                  class="text-small text-soft px-1.5 text-left font-semibold"
                  title={c.hint}>{c.title}</th
                >{/each}<th></th></tr
            ></thead
          >
          <tbody>
            {#each shown as cells, i (i)}
              <tr>
                {#each columns as c, k (c.title)}
                  <td class="border-rule border p-0">
                    <input
                      class={[
                        'figure bg-panel px-1.5 py-1',
                        c.wide,
                        k === 0 && bad(cells[0]) && 'text-fault font-bold',
                      ]}
                      data-cell="{i}.{k}"
                      aria-label="{c.title}, row {i + 1}"
                      value={cells[k] ?? ''}
                      placeholder={i === rows.length ? c.hint : ''}
                      autocomplete="off"
                      oninput={(e) => write(i, k, e.currentTarget.value)}
                      onpaste={(e) => onpaste(e, i, k)}
                      onkeydown={(e) => onkeydown(e, i, k)}
                    />
                  </td>
                {/each}
                <td class="pl-1">
                  {#if i < rows.length}<button
                      type="button"
                      class="text-soft px-1"
                      aria-label="Take out row {i + 1}"
                      onclick={() => rows.splice(i, 1)}>✕</button
                    >{/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      <ul class="text-small text-soft hidden overflow-y-auto lg:block" aria-label="Kinds">
        {#each inside.view?.kinds ?? [] as k (k)}<li>
            <b class="text-ink">{k.split(':')[0]}</b>: {k.split(':')[1]}
          </li>{/each}
      </ul>
    </div>
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    {#if answer && answer.problems.length > 0}
      <ul role="status">
        {#each answer.problems as p, i (i)}<li class="text-fault"><b>{p.where}:</b> {p.message}</li>{/each}
      </ul>
    {:else if answer?.rest}
      <p class="figure text-small text-expect" role="status" data-test="stands">
        {Object.entries(answer.rest.volts)
          .map(([node, v]) => `${node} ${Math.abs(v) < 5e-4 ? '0 V' : engineering(v, 'V')}`)
          .join('   ')}{answer.swing > 0 ? `   swings at ${engineering(answer.swing, 'Hz')}` : ''}
      </p>
    {/if}
    <div class="flex gap-2">
      <Button disabled={inside.busy} onclick={keep}>Keep it in the sheet</Button>
      <Button color="alternative" onclick={() => (open = false)}>Close</Button>
    </div>
  </div>
</Modal>

<script lang="ts">
  import type { Table } from '../api/types.gen';
  import type { SheetDraft } from './sheet.svelte';

  let { draft, table, onpath }: { draft: SheetDraft; table: Table; onpath: (text: string) => void } = $props();

  let grid: HTMLElement | undefined = $state();

  // Column widths in characters, for what usually stands there.
  const wide: Record<string, number> = {
    note: 25,
    stage: 24,
    hazard: 30,
    point: 12,
    settings: 30,
    route: 24,
    needs: 14,
    modes: 16,
    kind: 15,
    at: 12,
    from: 12,
    to: 12,
    railpoint: 14,
    feed: 14,
    rectifier: 24,
    regulator: 12,
    onrail: 10,
    hangs: 30,
    opens: 14,
    place: 14,
    after: 14,
    farads: 12,
    danger: 16,
    where: 40,
    weak: 36,
    in: 24,
    symptom: 40,
    check: 40,
  };

  function focusCell(row: number, column: number) {
    grid?.querySelector<HTMLInputElement>(`input[data-cell="${row}.${column}"]`)?.focus();
  }
  function onkeydown(event: KeyboardEvent, row: number, column: number) {
    const input = event.currentTarget as HTMLInputElement;
    const atStart = input.selectionStart === 0 && input.selectionEnd === 0;
    const atEnd = input.selectionStart === input.value.length;
    if (event.key === 'ArrowDown' || (event.key === 'Enter' && !event.shiftKey)) focusCell(row + 1, column);
    else if (event.key === 'ArrowUp' || event.key === 'Enter') focusCell(row - 1, column);
    else if (event.key === 'ArrowLeft' && atStart) focusCell(row, column - 1);
    else if (event.key === 'ArrowRight' && atEnd) focusCell(row, column + 1);
    else if (event.key === 'Escape') input.blur();
    else if (event.key === 'Insert') draft.insertRow(table.name, row);
    else if (event.key === 'Delete' && event.ctrlKey) draft.removeRow(table.name, row);
    else return;
    event.preventDefault();
  }
  function onpaste(event: ClipboardEvent, row: number, column: number) {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    if (!/[\t\n\r]/.test(text.trim())) return; // a single cell goes in as usual
    event.preventDefault();
    const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '').split('\n');
    const block = lines.map((line) => line.split('\t'));
    // A table with headings is read as a whole; bare cells go where the cursor is.
    const headings = (block[0] ?? []).map((cell) => cell.trim().toLowerCase());
    const known = table.columns.filter((c) => headings.includes(c.name) || headings.includes(c.title.toLowerCase()));
    if (known.length >= 2 || headings.some((h) => ['point', 'test point', 'tp', 'model', 'maker'].includes(h)))
      onpath(text);
    else draft.fill(table.name, row, column, block);
  }
</script>

<div class="overflow-x-auto" bind:this={grid}>
  <table class="bg-panel border-collapse">
    <thead>
      <tr>
        <th class="w-8"></th>
        {#each table.columns as column (column.name)}
          <th
            class="text-small text-soft px-1.5 pt-1 pb-1.5 text-left font-semibold whitespace-nowrap"
            title={column.hint}>{column.title}</th
          >
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each table.rows as cells, row (row)}
        <tr class="group">
          <td class="px-1 text-right">
            <button
              type="button"
              class="text-soft hover:text-fault opacity-0 group-hover:opacity-100 focus:opacity-100"
              aria-label="Remove row {row + 1}"
              tabindex="-1"
              onclick={() => draft.removeRow(table.name, row)}>✕</button
            >
          </td>
          {#each table.columns as column, k (column.name)}
            {@const problems = draft.problemsAt({ table: table.name, row, column: column.name })}
            {@const worst = problems.find((p) => p.severity === 'error') ?? problems[0]}
            <td class="border-rule border p-0">
              <input
                class={[
                  'figure text-small focus:bg-ground focus:ring-measured block [field-sizing:content] w-full max-w-[60ch] border-0 bg-transparent px-1.5 py-1 focus:ring-2',
                  worst?.severity === 'error' && 'bg-wash text-fault underline decoration-wavy',
                  worst?.severity === 'warning' && 'bg-wash decoration-fault underline decoration-dotted',
                ]}
                style:min-width="{wide[column.name] ?? 9}ch"
                data-cell="{row}.{k}"
                aria-label="{column.title}, row {row + 1}"
                aria-invalid={worst?.severity === 'error'}
                title={problems.map((p) => p.message).join('\n') || column.hint}
                value={cells[k]}
                oninput={(e) => draft.setCell(table.name, row, k, e.currentTarget.value)}
                onkeydown={(e) => onkeydown(e, row, k)}
                onpaste={(e) => onpaste(e, row, k)}
              />
            </td>
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
</div>

<script lang="ts">
  import type { Column } from '../api/types.gen';
  import * as lines from './rows';

  /** A table that is typed, pasted into, and gone about in with the arrow keys. */
  interface Props {
    columns: Column[];
    rows: string[][];
    /** Above its tables a sheet scrolls itself; a dialog's table does so in its frame. */
    class?: string;
    /** What is wrong with a cell. */
    problems: (row: number, column: string) => { severity: string; message: string }[];
    /** Something was changed; at once where rows came or went. */
    onedit: (at: boolean) => void;
    /** A whole table with headings was pasted. */
    ontable?: (text: string) => void;
  }
  let { columns, rows = $bindable(), class: looks = 'overflow-x-auto', problems, onedit, ontable }: Props = $props();

  let grid: HTMLElement | undefined = $state();

  function focusCell(row: number, column: number) {
    grid?.querySelector<HTMLInputElement>(`input[data-cell="${row}.${column}"]`)?.focus();
  }
  function write(row: number, column: number, text: string) {
    const cells = rows[row];
    if (!cells || cells[column] === text) return;
    cells[column] = text;
    lines.pad(rows, columns.length);
    onedit(false);
  }
  function remove(row: number) {
    lines.remove(rows, row, columns.length);
    onedit(true);
  }
  function onkeydown(event: KeyboardEvent, row: number, column: number) {
    const input = event.currentTarget as HTMLInputElement;
    const atStart = input.selectionStart === 0 && input.selectionEnd === 0;
    const atEnd = input.selectionStart === input.value.length;
    if (event.key === 'ArrowDown' || (event.key === 'Enter' && !event.shiftKey)) focusCell(row + 1, column);
    else if (event.key === 'ArrowUp' || event.key === 'Enter') focusCell(row - 1, column);
    else if (event.key === 'ArrowLeft' && atStart) focusCell(row, column - 1);
    else if (event.key === 'ArrowRight' && atEnd) focusCell(row, column + 1);
    else if (event.key === 'Escape') {
      input.blur();
      return; // a dialog around it closes
    } else if (event.key === 'Insert') {
      lines.insert(rows, row, columns.length);
      onedit(true);
    } else if (event.key === 'Delete' && event.ctrlKey) remove(row);
    else return;
    event.preventDefault();
  }
  function onpaste(event: ClipboardEvent, row: number, column: number) {
    const text = event.clipboardData?.getData('text/plain') ?? '';
    const block = lines.pasted(text);
    if (!block) return;
    event.preventDefault();
    // A table with headings is read as a whole; bare cells go where the cursor is.
    const headings = (block[0] ?? []).map((cell) => cell.trim().toLowerCase());
    const known = columns.filter((c) => headings.includes(c.name) || headings.includes(c.title.toLowerCase()));
    if (
      ontable &&
      (known.length >= 2 || headings.some((h) => ['point', 'test point', 'tp', 'model', 'maker'].includes(h)))
    )
      ontable(text);
    else {
      lines.fill(rows, row, column, block, columns.length);
      onedit(true);
    }
  }
</script>

<div class={looks} bind:this={grid}>
  <table class="bg-panel border-collapse">
    <thead>
      <tr>
        <th class="w-8"></th>
        {#each columns as column (column.name)}
          <th
            class="text-small text-soft px-1.5 pt-1 pb-1.5 text-left font-semibold whitespace-nowrap"
            title={column.hint}>{column.title}</th
          >
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each rows as cells, row (row)}
        <tr class="group">
          <td class="px-1 text-right">
            <button
              type="button"
              class="text-soft hover:text-fault opacity-0 group-hover:opacity-100 focus:opacity-100"
              aria-label="Remove row {row + 1}"
              tabindex="-1"
              onclick={() => remove(row)}>✕</button
            >
          </td>
          {#each columns as column, k (column.name)}
            {@const wrong = problems(row, column.name)}
            {@const worst = wrong.find((p) => p.severity === 'error') ?? wrong[0]}
            <td class="border-rule border p-0">
              <input
                class={[
                  'figure text-small focus:bg-ground focus:ring-measured block [field-sizing:content] w-full max-w-[60ch] border-0 bg-transparent px-1.5 py-1 focus:ring-2',
                  worst?.severity === 'error' && 'bg-wash text-fault underline decoration-wavy',
                  worst?.severity === 'warning' && 'bg-wash decoration-fault underline decoration-dotted',
                ]}
                style:min-width="{column.wide}ch"
                data-cell="{row}.{k}"
                aria-label="{column.title}, row {row + 1}"
                aria-invalid={worst?.severity === 'error'}
                title={wrong.map((p) => p.message).join('\n') || column.hint}
                value={cells[k]}
                oninput={(e) => write(row, k, e.currentTarget.value)}
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

// The rows of a table that is typed: one empty row stays at the end, to type into.

const blank = (width: number) => Array<string>(width).fill('');

/** Keeps one empty row at the end. */
export function pad(rows: string[][], width: number) {
  if (rows.at(-1)?.some((cell) => cell !== '') ?? true) rows.push(blank(width));
}

/** Lays a block of cells into rows, from a cell on downwards. */
export function fill(rows: string[][], row: number, column: number, block: string[][], width: number) {
  block.forEach((cells, i) => {
    while (rows.length <= row + i) rows.push(blank(width));
    const target = rows[row + i];
    cells.forEach((text, k) => {
      if (target && column + k < width) target[column + k] = text.trim();
    });
  });
  pad(rows, width);
}

export const insert = (rows: string[][], row: number, width: number) => rows.splice(row, 0, blank(width));

export function remove(rows: string[][], row: number, width: number) {
  rows.splice(row, 1);
  pad(rows, width);
}

/** What was pasted, as cells; nothing where it is one cell, which goes in as usual. */
export function pasted(text: string): string[][] | null {
  if (!/[\t\n\r]/.test(text.trim())) return null;
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '').split('\n');
  return lines.map((line) => line.split('\t'));
}

/** The rows that have something in them. */
export const filled = (rows: string[][]) => rows.filter((cells) => cells.some((c) => c.trim() !== ''));

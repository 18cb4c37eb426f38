// The geometry of a stage's figure: nodes are level lines, the higher the more volts; parts stand in columns between them.
import type { CircuitColumn, CircuitFigure } from '../api/types.gen';

export interface Place {
  width: number;
  height: number;
  scale: number; // the width of the true scale of volts, on the left
  left: number; // where the columns begin
  column: number; // from one to the next
  top: number;
  line: number; // from one to the next
}

export function place(figure: CircuitFigure, width: number, height: number): Place {
  const scale = width < 520 ? 44 : 84;
  const left = scale + (width < 520 ? 150 : 190);
  const column = Math.max(44, Math.min(108, (width - left - 12) / Math.max(figure.columns.length, 1)));
  const top = 46;
  const line = Math.max(34, Math.min(78, (height - top - 58) / Math.max(figure.lines.length - 1, 1)));
  return {
    width: left + column * figure.columns.length + 12,
    height: top + line * (figure.lines.length - 1) + 58,
    scale,
    left,
    column,
    top,
    line,
  };
}

/** A true scale of volts from the lowest to the highest of them, with round ticks. */
export interface Scale {
  y: (volts: number) => number;
  ticks: number[];
}

export function scaleOf(p: Place, volts: number[]): Scale {
  const low = Math.min(0, ...volts);
  const high = Math.max(0, ...volts, low + 0.5);
  const [from, to] = [p.top - 8, p.height - 64];
  const step = [1, 2, 5, 10]
    .map((m) => m * 10 ** Math.floor(Math.log10((high - low) / 4)))
    .find((s) => (high - low) / s <= 5);
  const ticks: number[] = [];
  if (step !== undefined)
    for (let v = Math.ceil(low / step - 1e-9) * step; v <= high + step * 1e-9; v += step) ticks.push(v);
  return { y: (v) => to - ((v - low) / (high - low)) * (to - from), ticks };
}

export const x = (p: Place, column: number) => p.left + p.column * (column + 0.5);
export const y = (p: Place, line: number) => p.top + p.line * line;

/** Where a part's sign is drawn: on the line of the leg that it stands on, or halfway between its ends. */
export function middle(c: CircuitColumn): number {
  const [a = 0, b = 0] = c.lines;
  if (c.sign.on >= 0) return c.lines[c.sign.on] ?? a;
  return c.lines.length > 2 ? (Math.min(...c.lines) + Math.max(...c.lines)) / 2 : (a + b) / 2;
}

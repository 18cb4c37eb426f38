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
  const high = Math.max(0, ...volts, low + 1e-3);
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

/** Where a part's sign is drawn: on the line of its base or gate, or halfway between its ends. */
export function middle(c: CircuitColumn): number {
  const [a = 0, b = 0] = c.lines;
  if (['npn', 'pnp', 'n-jfet', 'p-jfet', 'n-mosfet', 'p-mosfet', 'pot'].includes(c.kind)) return b;
  return c.lines.length > 2 ? (Math.min(...c.lines) + Math.max(...c.lines)) / 2 : (a + b) / 2;
}

/** A part's sign about its middle, upright: outlines after IEC 60617, and what is filled. */
export function sign(kind: string): { outline: string; filled: string; bare: number } {
  const box = 'M-6 -11h12v22h-12z';
  switch (kind) {
    case 'resistor':
      return { outline: box, filled: '', bare: 11 };
    case 'pot':
      return { outline: `${box}M-18 0h12m-4 -3l4 3l-4 3`, filled: '', bare: 11 };
    case 'capacitor':
      return { outline: 'M-10 -3h20M-10 3h20', filled: '', bare: 3 };
    case 'inductor':
      return { outline: 'M0 -12a4 4 0 0 1 0 8a4 4 0 0 1 0 8a4 4 0 0 1 0 8', filled: '', bare: 12 };
    case 'diode':
      return { outline: 'M-8 6h16', filled: 'M-8 -6h16l-8 12z', bare: 6 };
    case 'voltage':
    case 'alternating':
    case 'signal':
    case 'current': {
      const wave = {
        voltage: 'M0 -5v10',
        current: 'M-5 0h10',
        signal: 'M-6 0q3 -7 6 0t6 0',
        alternating: 'M-6 0q3 -7 6 0t6 0',
      }[kind];
      return { outline: `M-10 0a10 10 0 1 0 20 0a10 10 0 1 0 -20 0${wave}`, filled: '', bare: 10 };
    }
    case 'contact':
      return { outline: 'M0 -9l8 16M0 9v-2', filled: '', bare: 9 };
    case 'joint':
      return { outline: '', filled: 'M-5 0a5 5 0 1 0 10 0a5 5 0 1 0 -10 0', bare: 0 };
    case 'crystal':
      return { outline: 'M-8 -8h16M-8 8h16M-7 -4h14v8h-14z', filled: '', bare: 8 };
    case 'npn':
    case 'pnp':
      return {
        outline: 'M-12 0a12 12 0 1 0 24 0a12 12 0 1 0 -24 0M-5 -7v14M-12 0h7M-5 -2L0 -7M-5 2L0 7',
        filled: kind === 'npn' ? 'M0 7l-4.5 -0.5l2.6 -3.4z' : 'M-5 2l4.5 0.7l-2.6 3.4z',
        bare: 12,
      };
    case 'n-jfet':
    case 'p-jfet':
    case 'n-mosfet':
    case 'p-mosfet':
      return {
        outline: 'M-12 0a12 12 0 1 0 24 0a12 12 0 1 0 -24 0M-4 -6v12M-12 0h8M-1 -7v14M-1 -6h3M-1 6h3',
        filled: '',
        bare: 12,
      };
    default: // several terminals: a box
      return { outline: 'M-9 -13h18v26h-18z', filled: '', bare: 13 };
  }
}

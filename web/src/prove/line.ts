import { area } from 'd3-shape';
import type { LogLine, SoakTraceState } from '../api/types.gen';

interface Stretch {
  t: number;
  least: number;
  greatest: number;
}

/** What was read between the least and the greatest of every stretch; nothing is drawn where nothing was read. */
export function drawn(line: LogLine, x: (t: number) => number, y: (v: number) => number): string {
  const shape = area<Stretch>()
    .x((s) => x(s.t))
    .y0((s) => y(s.least))
    .y1((s) => y(s.greatest));
  return line.breaks
    .map((from, i) =>
      shape(
        line.t.slice(from, line.breaks[i + 1]).map((t, k) => ({
          t,
          least: line.least[from + k] ?? 0,
          greatest: line.greatest[from + k] ?? 0,
        })),
      ),
    )
    .join('');
}

const beyond: SoakTraceState['verdict'][] = ['above', 'below', 'apart', 'fast', 'will pass'];

/** Whether a trace is beyond one of its limits, or will be. */
export const isBad = (t: SoakTraceState) => beyond.includes(t.verdict);

// Geometry of the step chart: where treads, risers and labels go, in pixels.
import { scaleLinear, type ScaleLinear } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { PointFinding } from '../api/types.gen';

/** What the chart needs of a point. */
export type Drawn = Pick<
  PointFinding,
  'expectedDBV' | 'lowDBV' | 'highDBV' | 'measuredDBV' | 'beforeDBV' | 'verdict' | 'off' | 'source'
>;

export const gutter = 84; // left of the plot, for the level figures
const rightMargin = 28;
const narrowest = 80; // a tread that still holds a label; 14 points fit 1280 pixels

export interface Layout {
  width: number; // of the whole drawing, gutter included
  step: number; // of one tread
  left: (i: number) => number; // where tread i begins
  middle: (i: number) => number;
  y: ScaleLinear<number, number>;
  ticks: number[];
}

/** Lays n points out over at least the given width. Levels are dB against 1 V. */
export function layOut(points: Drawn[], width: number, top: number, bottom: number): Layout {
  const n = Math.max(points.length, 1);
  const step = Math.max((width - gutter - rightMargin) / n, narrowest);
  const levels = points.flatMap((p) => [p.lowDBV, p.highDBV, p.measuredDBV, p.beforeDBV]).filter((x) => x !== null);
  const y = scaleLinear()
    .domain(levels.length > 0 ? [Math.min(...levels) - 4, Math.max(...levels) + 4] : [-60, 0])
    .range([bottom, top]);
  const left = (i: number) => gutter + i * step;
  return {
    width: gutter + n * step + rightMargin,
    step,
    left,
    middle: (i) => left(i) + step / 2,
    y,
    ticks: y.ticks(4),
  };
}

interface Corner {
  x: number;
  point: Drawn;
}

function corners(points: Drawn[], l: Layout): Corner[] {
  return points.flatMap((point, i) => [
    { x: l.left(i), point },
    { x: l.left(i + 1), point },
  ]);
}

/** The staircase of what is expected; it breaks where nothing is known. Firm leaves out what is no more than usual. */
export function staircase(points: Drawn[], l: Layout, firm = false): string {
  const path = line<Corner>()
    .defined((c) => c.point.expectedDBV !== null && !(firm && c.point.source === 'usual'))
    .x((c) => c.x)
    .y((c) => l.y(c.point.expectedDBV ?? 0));
  return path(corners(points, l)) ?? '';
}

/** The tolerance around it, tread by tread: of what is no more than usual, or of all else. */
export function ribbon(points: Drawn[], l: Layout, usual: boolean): string {
  const band = area<Corner>()
    .defined((c) => c.point.expectedDBV !== null && (c.point.source === 'usual') === usual)
    .x((c) => c.x)
    .y0((c) => l.y(c.point.lowDBV ?? c.point.expectedDBV ?? 0))
    .y1((c) => l.y(c.point.highDBV ?? c.point.expectedDBV ?? 0));
  return points.map((point, i) => band(corners([point], { ...l, left: (k) => l.left(i + k) })) ?? '').join('');
}

/** A reading on the chart: at its level, or at the foot where nothing was there. */
export interface Mark {
  at: number;
  y: number;
  expectedY: number | null;
  bad: boolean;
  drawn: boolean; // false where a word says that it is wrong, but not how much
  text: string;
}

export function marks(points: Drawn[], l: Layout): Mark[] {
  return points.flatMap((p, at) => {
    if (p.verdict === '' || p.verdict === 'unjudged') return [];
    const expectedY = p.expectedDBV === null ? null : l.y(p.expectedDBV);
    const foot = l.y.range()[0] ?? 0;
    let y = expectedY ?? foot;
    if (p.measuredDBV !== null) y = l.y(p.measuredDBV);
    else if (p.verdict === 'absent') y = foot;
    const bad = p.verdict !== 'within';
    const drawn = p.measuredDBV !== null || p.verdict === 'absent' || !bad;
    return [{ at, y, expectedY, bad, drawn, text: p.off || p.verdict }];
  });
}

// Geometry of a drawn waveform: seconds to the right, its unit upward.
import { scaleLinear, scaleLog, type ScaleContinuousNumeric } from 'd3-scale';
import { area, line } from 'd3-shape';
import type { Spectrum, Strip } from '../api/types.gen';

/** A stretch of time, in seconds. */
export interface Span {
  from: number;
  to: number;
}

export interface Size {
  width: number;
  height: number;
}

type Scale = ScaleContinuousNumeric<number, number>;

/** What stands between two lines of values at even times over a strip. */
function between(strip: Strip, low: number[], high: number[], x: Scale, y: Scale, shift: number): string {
  const n = low.length;
  if (n === 0) return '';
  const at = (i: number) => x(strip.from + ((i + 0.5) / n) * (strip.to - strip.from) + shift);
  const shape = area<number>()
    .x((_, i) => at(i))
    .y0((v) => y(v))
    .y1((_, i) => y(high[i] ?? 0));
  return shape(low) ?? '';
}

function extent(lists: number[][]): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const list of lists) {
    for (const v of list) {
      if (v < low) low = v;
      if (v > high) high = v;
    }
  }
  if (low > high) return [-1, 1];
  const room = (high - low) * 0.06 || Math.abs(high) * 0.1 || 1;
  return [low - room, high + room];
}

/** A trace over what is due; times of the strip are moved by shift (s). */
export function trace(strip: Strip, span: Span, size: Size, shift = 0) {
  const x = scaleLinear([span.from, span.to], [0, size.width]);
  const y = scaleLinear(extent([strip.low, strip.high, strip.dueLow, strip.dueHigh]), [size.height, 0]);
  return {
    due: between(strip, strip.dueLow, strip.dueHigh, x, y, shift),
    got: between(strip, strip.low, strip.high, x, y, shift),
    dots: strip.dots.map((v, i) => ({
      x: x(strip.from + ((i + 0.5) / strip.dots.length) * (strip.to - strip.from) + shift),
      y: y(v),
    })),
    levels: y.ticks(size.height < 110 ? 2 : 4).map((value) => ({ value, y: y(value) })),
  };
}

/** What is left of it, within what the tolerance allows. */
export function left(strip: Strip, span: Span, size: Size, shift = 0) {
  const allowed = Math.max(0, ...strip.dueHigh.map((v, i) => (v - (strip.dueLow[i] ?? v)) / 2));
  const far = Math.max(allowed, ...strip.leftHigh, ...strip.leftLow.map((v) => -v), 1e-12) * 1.08;
  const x = scaleLinear([span.from, span.to], [0, size.width]);
  const y = scaleLinear([-far, far], [size.height, 0]);
  return {
    allowed: { y: y(allowed), height: y(-allowed) - y(allowed) },
    got: between(strip, strip.leftLow, strip.leftHigh, x, y, shift),
    levels: [far / 2, 0, -far / 2].map((value) => ({ value: Number(value.toPrecision(1)), y: y(value) })),
  };
}

/** Round times along a span, in thousandths of its width, as many as so many pixels have room for. */
export function times(span: Span, pixels: number) {
  const x = scaleLinear([span.from, span.to], [0, 1000]);
  return x.ticks(Math.max(2, Math.round(pixels / 110))).map((value) => ({ value, x: x(value) }));
}

/** Levels along the frequency; the faintest hundred and twenty decibels below the strongest are left out. */
export function lines(spectrum: Spectrum, size: Size, depth = 40) {
  const top = Math.max(-190, ...spectrum.db) + depth / 6.7;
  const bottom = Math.max(top - 126, Math.min(top - depth, ...spectrum.db));
  const ends = [spectrum.hz[0] ?? 1, spectrum.hz.at(-1) ?? 10] as const;
  const few = ends[1] < 1000 * ends[0]; // less than three decades have room for more figures
  const x = scaleLog(ends, [0, size.width]);
  const y = scaleLinear([bottom, top], [size.height, 0]).clamp(true);
  const shape = area<number>()
    .x((_, i) => x(spectrum.hz[i] ?? 1))
    .y0(size.height)
    .y1((v) => y(v));
  const outline = line<number>()
    .x((_, i) => x(spectrum.hz[i] ?? 1))
    .y((v) => y(v));
  return {
    body: shape(spectrum.db) ?? '',
    edge: outline(spectrum.db) ?? '',
    levels: y.ticks(3).map((value) => ({ value, y: y(value) })),
    places: x
      .ticks()
      .filter((hz) => /^[1-9]0*$|^0\.0*[1-9]$/.test(String(hz)) && (few ? /^[125]/ : /^1/).test(String(hz)))
      .map((value) => ({ value, x: x(value) })),
  };
}

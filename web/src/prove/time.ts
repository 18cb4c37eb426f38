/** 0:05, 2:10, 26:00 of seconds: hours and minutes. */
export function clock(seconds: number): string {
  const minutes = Math.floor(seconds / 60 + 1e-6);
  return `${String(Math.floor(minutes / 60))}:${String(minutes % 60).padStart(2, '0')}`;
}

const steps = [60, 300, 600, 900, 1800, 3600, 7200, 14400, 21600, 43200, 86400, 7 * 86400, 30 * 86400, 91 * 86400];

/** Round times between two, about so many. */
export function timesOf(from: number, to: number, about: number): number[] {
  const step = steps.find((s) => (to - from) / s <= about) ?? 365 * 86400;
  const out: number[] = [];
  for (let t = Math.ceil(from / step) * step; t <= to; t += step) out.push(t);
  return out;
}

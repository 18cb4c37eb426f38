// Formatting of what the server has computed; nothing is computed here.

/** 14:05 for today; 3 Nov for another day. */
export function when(stamp: string): string {
  const t = new Date(stamp);
  return t.toDateString() === new Date().toDateString()
    ? t.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
    : t.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });
}

/** 3 Nov 2026, 14:05. */
export function moment(stamp: string): string {
  return new Date(stamp).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
}

export function day(stamp: string): string {
  return new Date(stamp).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
}

/** +28, −8, 0: with a real minus sign and at most one decimal. */
export function signed(x: number): string {
  const text = String(Math.abs(Math.round(x * 10) / 10));
  return text === '0' ? text : (x < 0 ? '−' : '+') + text;
}

/** 1 row, 3 rows, no rows. */
export function counted(n: number, one: string): string {
  return `${n === 0 ? 'no' : String(n)} ${one}${n === 1 ? '' : 's'}`;
}

export function percent(share: number): string {
  return String(Math.round(share * 100));
}

/** 45 min, 3.3 h: how long was worked. */
export function worked(minutes: number): string {
  return minutes < 90 ? `${String(Math.round(minutes))} min` : `${String(Number((minutes / 60).toFixed(1)))} h`;
}

const prefixes: [number, string][] = [
  [1e6, 'M'],
  [1e3, 'k'],
  [1, ''],
  [1e-3, 'm'],
  [1e-6, 'µ'],
  [1e-9, 'n'],
];

/** 1.2 kΩ, 34 mJ: to two or three figures with a decimal prefix; what is below a hundredth of a billionth is none. */
export function engineering(x: number, unit: string): string {
  if (Math.abs(x) < 1e-11) return `0 ${unit}`;
  const [scale, prefix] = prefixes.find(([s]) => Math.abs(x) >= s * 0.9995) ?? [1e-9, 'n'];
  return `${String(Number((x / scale).toPrecision(3))).replace('-', '−')} ${prefix}${unit}`;
}

/** A value in its SI unit as it is read: 13.8 mV, 42 °C, 0.08 %. */
export function valued(x: number, unit: string): string {
  switch (unit) {
    case '%':
      return `${String(Number((100 * x).toPrecision(3))).replace('-', '−')} %`;
    case '°C':
    case 'dB':
    case '':
      return `${String(Number(x.toPrecision(3))).replace('-', '−')} ${unit}`.trim();
  }
  return engineering(x, unit);
}

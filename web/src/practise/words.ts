/** Minutes as a clock that began at nothing: "24 min", "1 h 05". */
export function clock(minutes: number): string {
  const n = Math.round(minutes);
  return n < 60 ? `${String(n)} min` : `${String(Math.floor(n / 60))} h ${String(n % 60).padStart(2, '0')}`;
}

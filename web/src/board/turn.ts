// A picture's file and how it is looked at: mirrored first, then turned by quarters to the right.

export interface Looked {
  turn?: number;
  mirror?: boolean;
}

/** Where a place of the file, 0 to 1 across and down, is in what is looked at. */
export function seen(p: Looked, x: number, y: number): [number, number] {
  let [u, v] = [p.mirror ? 1 - x : x, y];
  for (let k = 0; k < (p.turn ?? 0); k++) [u, v] = [1 - v, u];
  return [u, v];
}

/** Where a place of what is looked at is in the file. */
export function inFile(p: Looked, u: number, v: number): [number, number] {
  for (let k = 0; k < (p.turn ?? 0); k++) [u, v] = [v, 1 - u];
  return [p.mirror ? 1 - u : u, v];
}

/** Width and height of what is looked at. */
export const sized = (p: Looked, width: number, height: number): [number, number] =>
  (p.turn ?? 0) % 2 === 1 ? [height, width] : [width, height];

export const styled = (p: Looked) => `rotate(${(p.turn ?? 0) * 90}deg) scaleX(${p.mirror ? -1 : 1})`;

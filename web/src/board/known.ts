import { api } from '../api/client';
import type { Board } from '../api/types.gen';

// Many places of a screen ask for the same pictures at once; a picture taken in elsewhere shows a moment later.
const lasts = 4000; // ms
const known = new Map<string, { at: number; board: Promise<Board> }>();

/** The pictures of a sheet at a revision, as they were moments ago at the most. */
export function pictured(sheet: number, revision: number): Promise<Board> {
  const key = `${sheet} ${revision}`;
  const had = known.get(key);
  if (had && Date.now() - had.at < lasts) return had.board;
  const board = api.board(sheet);
  known.clear();
  known.set(key, { at: Date.now(), board });
  return board;
}

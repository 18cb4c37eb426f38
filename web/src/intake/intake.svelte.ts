// What the intake screen knows: the job as it came in, and the matrix with its cursor.
import { api, newId } from '../api/client';
import { Kept } from '../shared/kept.svelte';
import type { IntakeView, Mark, Row, Trial } from '../api/types.gen';

/** What a cell is marked with: its key, and how that is said. */
export const marks: { key: string; word: Mark['word']; says: string; long: string }[] = [
  { key: 'w', word: 'ok', says: 'works', long: 'works' },
  { key: 'f', word: 'weak', says: 'faint', long: 'is faint' },
  { key: 'p', word: 'partly', says: 'partly', long: 'works partly' },
  { key: 'c', word: 'cuts out', says: 'comes and goes', long: 'comes and goes' },
  { key: 'x', word: 'none', says: 'nothing', long: 'gives nothing' },
];
export const saidOf = (word: string): string => marks.find((m) => m.word === word)?.says ?? word;

export class Intake extends Kept<IntakeView> {
  swaps: string[][] = $state([]); // rows added here, not tried yet
  drafts: Record<string, string> = $state({}); // what is typed and not written down yet
  row = $state(0);
  cell = $state(0);
  private begun = false; // the cursor has gone to what tells most

  constructor(readonly number: number) {
    super(() => api.intake(number, this.swapped()));
  }

  get rows(): Row[] {
    return this.view?.matrix?.rows ?? [];
  }
  get at(): Trial | null {
    return this.rows[this.row]?.cells[this.cell] ?? null;
  }

  override async load() {
    await super.load();
    if (this.begun || !this.view) return;
    this.begun = true;
    this.toBest();
  }

  toBest() {
    const best = this.view?.matrix?.best;
    if (best) [this.row, this.cell] = [best.row, best.cell];
    else this.move(0, 0);
  }

  /** Moves the cursor to the next cell that is there. */
  move(down: number, right: number) {
    const cells = this.rows.flatMap((r, row) => r.cells.flatMap((c, cell) => (c.there ? [{ row, cell }] : [])));
    const ahead = cells
      .filter((c) =>
        down === 0
          ? c.row === this.row && (right === 0 || Math.sign(c.cell - this.cell) === right)
          : Math.sign(c.row - this.row) === down,
      )
      .sort(
        (a, b) =>
          Math.abs(a.row - this.row) - Math.abs(b.row - this.row) ||
          Math.abs(a.cell - this.cell) - Math.abs(b.cell - this.cell),
      );
    const to = ahead[0] ?? (this.at?.there ? undefined : cells[0]);
    if (to) [this.row, this.cell] = [to.row, to.cell];
  }

  /** The rows of the matrix with stages swapped for good ones, as an address carries them. */
  private swapped() {
    return { swap: this.swaps.map((s) => s.join(';')) };
  }

  /** Marks the cell under the cursor; the cursor goes on to what tells most. */
  async mark(word: Mark['word']) {
    const row = this.rows[this.row];
    const cell = this.at;
    if (!row || !cell?.there) return;
    const mark = { id: newId(), mode: row.mode, entry: row.entry, exit: cell.exit, without: row.without, word };
    if (await this.keep(() => api.mark(this.number, mark, this.swapped()))) if (word !== '') this.toBest();
  }

  /** Writes a field down as it is typed; where that fails the text stays. */
  async note(field: string) {
    const text = this.drafts[field];
    if (text === undefined) return;
    const was = this.view?.fields.find((f) => f.key === field)?.text;
    if (was === text.trim() || (await this.keep(() => api.note(this.number, { field, text })))) {
      if (this.drafts[field] === text)
        this.drafts = Object.fromEntries(Object.entries(this.drafts).filter(([k]) => k !== field));
    }
  }

  async toggle(past: string) {
    const on = (this.view?.pasts ?? []).filter((p) => (p.key === past ? !p.on : p.on)).map((p) => p.key);
    await this.keep(() => api.note(this.number, { field: 'past', text: on.join(';') }));
  }

  async swap(stages: string[]) {
    this.swaps.push(stages);
    await this.load();
    const at = this.rows.findIndex((r) => r.without.join() === stages.join());
    if (at >= 0) [this.row, this.cell] = [at, this.rows[at]?.cells.findIndex((c) => c.there) ?? 0];
  }
}

// What the sheet screen knows: the tables as typed, and what the server makes
// of them.
import { Entry } from '../shared/entry';
import { pad } from '../shared/rows';
import { api, told } from '../api/client';
import type { Cell, CellProblem, Check, SheetView, Tables } from '../api/types.gen';

const nothing: Check = { problems: [], blocked: false, routes: [], drawn: null };

export class SheetDraft {
  id = $state(0); // 0: not stored yet
  revision = $state(0);
  tables: Tables | null = $state(null);
  check: Check = $state.raw(nothing);
  route = $state('');
  changed = $state(false);
  busy = $state(false);
  missing = $state('');
  trouble = $state('');
  done = $state('');

  private readonly entry = new Entry();
  private asking: AbortController | null = null;

  constructor(private readonly param: string) {}

  private get draft(): string {
    return `steptrace.sheet.${this.id || 'new'}`;
  }

  private take(view: SheetView) {
    this.id = view.id;
    this.revision = view.revision;
    this.tables = view.tables;
    this.check = view.check;
    for (const table of view.tables.tables) pad(table.rows, table.columns.length);
  }

  async load() {
    try {
      this.take(this.param === 'new' ? await api.newSheet() : await api.sheet(Number(this.param)));
    } catch (error) {
      this.missing = told(error);
      return;
    }
    // What was typed and not saved survives a reload of the page.
    const kept = sessionStorage.getItem(this.draft);
    if (!kept || !this.tables) return;
    const draft = JSON.parse(kept) as { revision: number; tables: Tables };
    this.tables = draft.tables;
    this.revision = draft.revision;
    this.done = 'What you had typed before is back; it is not saved yet.';
    this.edited(true);
  }

  /** Notes a change, keeps it over a reload, and has it checked. */
  edited(quietly = false) {
    this.changed = true;
    this.trouble = '';
    if (!quietly) this.done = '';
    sessionStorage.setItem(this.draft, JSON.stringify({ revision: this.revision, tables: this.tables }));
    this.recheck();
  }

  recheck() {
    if (!this.tables) return;
    this.asking?.abort();
    const asking = new AbortController();
    this.asking = asking;
    api.checkSheet({ tables: $state.snapshot(this.tables), route: this.route }, asking.signal).then(
      (check) => {
        if (!asking.signal.aborted) this.check = check;
      },
      (error: unknown) => {
        if (!asking.signal.aborted) this.trouble = told(error);
      },
    );
  }

  /** Takes over a pasted table or a file; what is on screen gives way only if it can be read. */
  async read(table: BodyInit): Promise<void> {
    this.trouble = '';
    try {
      this.takeOver(await api.readTable(table));
    } catch (error) {
      this.trouble = told(error);
    }
  }
  /** Takes a sheet with its pictures in as a sheet of its own; its number, or 0 where that failed. */
  async unpack(bundle: File): Promise<number> {
    this.trouble = '';
    try {
      return (await api.importSheet(bundle)).id;
    } catch (error) {
      this.trouble = told(error);
      return 0;
    }
  }
  private takeOver(view: SheetView) {
    const now = this.tables;
    this.tables = view.tables;
    // A bare table brings no names along: those typed before stay.
    for (const key of ['maker', 'model', 'kind', 'note', 'settings'] as const)
      if (this.tables[key] === '' && now) this.tables[key] = now[key];
    for (const t of view.tables.tables) pad(t.rows, t.columns.length);
    this.edited();
    const lost = view.check.problems.filter((p) => p.message.includes('left out')).map((p) => p.message);
    this.done = lost.length > 0 ? `Taken over, but ${lost.join('; ')}.` : 'Taken over. Look it through, then save.';
  }

  /** Stores the sheet; its number, or 0 where that failed. */
  async save(): Promise<number> {
    if (!this.tables || this.busy) return 0;
    this.busy = true;
    try {
      const sheet = { revision: this.revision, tables: $state.snapshot(this.tables) };
      const view = this.id
        ? await api.changeSheet(this.id, sheet)
        : await api.addSheet({ id: this.entry.idOf(sheet), ...sheet });
      this.entry.done();
      sessionStorage.removeItem(this.draft);
      this.take(view);
      this.changed = false;
      this.trouble = '';
      this.done = view.check.blocked ? 'Saved as it is. It needs mending before a job can use it.' : 'Saved.';
      return view.id;
    } catch (error) {
      this.trouble = told(error);
      return 0;
    } finally {
      this.busy = false;
    }
  }

  /** Gives up what was typed and takes the stored sheet again. */
  async revert() {
    sessionStorage.removeItem(this.draft);
    this.changed = false;
    this.done = this.trouble = '';
    await this.load();
  }

  problemsAt(cell: Cell): CellProblem[] {
    return this.check.problems.filter(
      (p) => p.cell?.table === cell.table && p.cell.row === cell.row && p.cell.column === cell.column,
    );
  }
}

import { api, now } from '../api/client';
import type {
  ReplaceEntry,
  ReplaceOffer,
  ReplaceOrderLine,
  ReplacePart,
  ReplaceStep,
  ReplaceSubject,
  ReplaceView,
} from '../api/types.gen';
import { Entry } from '../shared/entry';
import { Kept } from '../shared/kept.svelte';

const few = 4; // offers that are shown before more are asked for

/** The replacing of parts in a job: which one is looked at, what is marked for it, what is typed. */
export class Replacing {
  at = $state(''); // the part that is looked at; empty: the first that nothing is chosen for
  mark = $state(0); // of the offers; −1: what was typed
  all = $state(false); // of the offers are shown
  try = $state(''); // as it was judged
  typed = $state('');
  doubted = $state(''); // what does not fit, and was to be taken: once more takes it all the same
  naming: ReplaceSubject | null = $state(null);

  readonly kept: Kept<ReplaceView>;
  private entry = new Entry();
  private done = new Entry();

  constructor(readonly number: number) {
    this.kept = new Kept(() => api.replacing(number, { part: this.at, try: this.try }));
  }

  get part(): ReplacePart | undefined {
    const view = this.kept.view;
    return view?.parts[view.at];
  }
  get marked(): ReplaceOffer | undefined {
    const view = this.kept.view;
    if (this.mark < 0) return view?.tried;
    const all = [...(view?.tried ? [view.tried] : []), ...(view?.offers ?? [])];
    const chosen = this.all || this.mark > 0 ? undefined : all.find((o) => o.new === this.part?.new);
    return chosen ?? view?.offers[this.mark];
  }
  /** The offers that are shown: a few; of a part that something was chosen for none, unless they are asked for. */
  get shown(): ReplaceOffer[] {
    const offers = this.kept.view?.offers ?? [];
    return this.all ? offers : offers.slice(0, this.part?.new ? 0 : few);
  }
  /** The step that is next. */
  get step1(): ReplaceStep | undefined {
    return this.kept.view?.steps.find((s) => !s.done);
  }
  /** How many wait for something to be chosen. */
  get waiting(): number {
    return this.kept.view?.parts.filter((p) => p.new === '' && p.advice !== 'stays').length ?? 0;
  }
  get chosen(): number {
    return this.kept.view?.parts.filter((p) => p.new !== '').length ?? 0;
  }

  step(by: number) {
    this.doubted = '';
    const n = this.kept.view?.offers.length ?? 0;
    const least = this.kept.view?.tried ? -1 : 0;
    this.mark = Math.max(least, Math.min(n - 1, this.mark + by));
    if (this.mark >= few) this.all = true;
  }
  /** Looks at another part. */
  async look(part: string) {
    this.at = part;
    this.mark = 0;
    this.all = false;
    this.try = this.typed = this.doubted = '';
    await this.kept.load();
  }
  along(by: number) {
    const parts = this.kept.view?.parts ?? [];
    if (parts.length === 0) return;
    const next = parts[((this.kept.view?.at ?? 0) + by + parts.length) % parts.length];
    if (next) void this.look(next.part);
  }

  private async note(by: Entry, content: Omit<ReplaceEntry, 'id' | 'at'>): Promise<boolean> {
    const taken = await this.kept.keep(() =>
      api.noteReplacing(this.number, { id: by.idOf(content), at: now(), ...content }),
    );
    if (taken) by.done();
    return taken;
  }

  /** Begins to name a part, or what the one that is looked at was. */
  begin(of: boolean) {
    const p = of ? this.part : undefined;
    this.naming = { part: p?.part ?? '', stage: p?.stage ?? '', was: p?.was ?? '', duty: p?.duty ?? '' };
  }
  leave(event: KeyboardEvent) {
    if (event.key === 'Escape') this.naming = null;
  }
  async name() {
    if (!this.naming) return;
    const part = this.naming.part;
    if (!(await this.note(this.entry, { subject: { ...this.naming } }))) return;
    this.naming = null;
    await this.look(part);
  }
  async drop(p: ReplacePart) {
    if (await this.note(this.entry, { subject: { part: p.part, stage: p.stage, dropped: true } })) await this.look('');
  }

  /** Has what is typed judged; once it is judged, takes it. */
  async judge() {
    if (this.typed.trim() === '') return;
    if (this.try === this.typed && this.kept.view?.tried) {
      this.mark = -1;
      await this.take();
      return;
    }
    this.try = this.typed;
    this.mark = -1;
    await this.kept.load();
  }
  /** What keys do comes one after the other, however fast they are. */
  private doing: Promise<void> = Promise.resolve();
  private inTurn(work: () => Promise<void>): Promise<void> {
    this.doing = this.doing.then(work);
    return this.doing;
  }

  /** Takes what is marked: from the drawer, where it lies there. */
  take = () => this.inTurn(() => this.takeMarked());
  private async takeMarked() {
    const p = this.part;
    const offer = this.marked;
    if (!p || !offer) return;
    const against = offer.verdict.grade === 'does not fit';
    if (against && this.doubted !== offer.new) {
      this.doubted = offer.new;
      return;
    }
    this.doubted = '';
    const why = against ? 'taken against the rules' : '';
    const chosen = {
      part: p.part,
      new: offer.new,
      from: offer.drawer > 0 ? 'drawer' : 'order',
      count: 1,
      why,
    } as const;
    if (!(await this.note(this.entry, { chosen }))) return;
    await this.look('');
  }
  /** What each of an order's line costs is noted with what was chosen. */
  async price(line: ReplaceOrderLine, price: string) {
    const chosen = this.kept.view?.parts.find((p) => p.part === line.for[0])?.chosen;
    if (!chosen) return;
    await this.note(this.entry, { chosen: { ...chosen, price: price.trim() } });
    await this.kept.load();
  }
  tick = () =>
    this.inTurn(async () => {
      const s = this.step1;
      if (s) await this.note(this.done, { done: { step: s.key, text: s.text } });
    });
  async undo(s: ReplaceStep) {
    await this.strike(s.entry);
  }
  /** Strikes an entry out. */
  async strike(entry: string): Promise<void> {
    await this.kept.keep(() => api.strikeReplacing(this.number, entry, {}, { part: this.at }));
  }
  /** Keeps a list of parts to be renewed. */
  async renew(list: string): Promise<boolean> {
    const taken = await this.note(this.entry, { list });
    if (taken) await this.look('');
    return taken;
  }
  async setSchool(school: NonNullable<ReplaceEntry['school']>) {
    await this.note(this.entry, { school });
    await this.kept.load();
  }
  /** Chooses what fits best for each that nothing is chosen for. */
  async chooseAll() {
    const id = this.done.idOf('all');
    if (await this.kept.keep(() => api.chooseAll(this.number, { id }))) this.done.done();
  }
  /** What was measured of the part that is looked at: of the old one, until its step is done. */
  async test(given: string): Promise<boolean> {
    const p = this.part;
    if (!p || given.trim() === '') return false;
    const taken = await this.note(this.done, { tested: { part: p.part, new: p.in, given } });
    await this.kept.load();
    return taken;
  }
  async turnBoard() {
    const view = this.kept.view;
    if (!view) return;
    const next = view.boards[(view.boards.indexOf(view.board) + 1) % view.boards.length];
    if (next) await this.setBoard(next);
  }
  async setBoard(board: ReplaceView['board']) {
    await this.note(this.entry, { board });
    if (this.at) await this.kept.load(); // the part that is looked at, not the next
  }
  async fitted(): Promise<boolean> {
    const taken = await this.kept.keep(() => api.fitted(this.number, { id: this.done.idOf('fitted') }));
    if (taken) this.done.done();
    return taken;
  }
}

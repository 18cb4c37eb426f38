// What the pictures of a set have, and what a person is about to place on one.
import { api, newId, told } from '../api/client';
import type { Board, PictureView, Pinned } from '../api/types.gen';
import { Fresh } from '../shared/fresh';

export type Seen = PictureView['seen'];
export const sides: { seen: Seen; says: string }[] = [
  { seen: 'parts', says: 'parts side' },
  { seen: 'copper', says: 'copper side' },
  { seen: 'drawing', says: 'drawing' },
  { seen: 'other', says: 'picture' },
];

export class Pictures {
  board: Board | null = $state.raw(null);
  missing = $state('');
  trouble = $state('');
  sending = $state(0);
  private chosen = $state(''); // id of the picture that was asked for
  page = $state(1);
  placing = $state(false);
  private passed: string[] = $state([]); // names that are not on this picture, as the person said
  private put: { picture: string; name: string; page: number }[] = $state([]); // pins placed, to be taken back
  private readonly fresh = new Fresh();

  /** What is shown: of a job with how each place stands, asked for anew after a change; else of the sheet. */
  constructor(
    private readonly get: () => Promise<Board>,
    private readonly ofJob: boolean,
  ) {}

  readonly picture = $derived(
    this.board?.pictures.find((p) => p.id === this.chosen) ?? this.board?.pictures[0] ?? null,
  );
  readonly paged = $derived(this.picture?.type === 'application/pdf');
  readonly pins = $derived((this.picture?.pins ?? []).filter((p) => (p.page ?? 0) === (this.paged ? this.page : 0)));
  /** The names to be placed, those that are nowhere yet first. */
  readonly asked = $derived.by(() => {
    const left = (this.picture?.asked ?? []).filter((a) => !this.passed.includes(a.name));
    return [...left.filter((a) => !a.elsewhere), ...left.filter((a) => a.elsewhere)];
  });
  private wanted = $state(''); // typed by the person, or picked
  readonly next = $derived(this.wanted || (this.asked[0]?.name ?? ''));
  readonly undoable = $derived(this.put.length > 0);

  async load(): Promise<void> {
    try {
      const board = await this.fresh.ask(this.get);
      if (board) this.board = board;
    } catch (error) {
      if (this.board) this.trouble = told(error);
      else this.missing = told(error);
    }
  }

  choose(id: string, page = 1) {
    if (id !== this.picture?.id) this.passed = [];
    this.chosen = id;
    this.page = page;
    this.trouble = '';
  }
  /** The picture after this one. */
  turnOver() {
    const all = this.board?.pictures ?? [];
    const next = all[(all.findIndex((p) => p.id === this.picture?.id) + 1) % all.length];
    if (next) this.choose(next.id);
  }
  /** Shows where something is, where that is known. */
  show(name: string): boolean {
    const place = this.board?.places.find((p) => p.name === name);
    if (!place || this.pins.some((p) => p.is === name)) return place !== undefined;
    this.choose(place.picture, place.page || 1);
    return true;
  }

  ask(name: string) {
    this.wanted = name.trim();
  }
  /** It is not on this picture: the next name. */
  pass() {
    if (this.wanted === '') this.passed = [...this.passed, this.next];
    this.wanted = '';
  }

  /** Places the name that is asked for, where the file was clicked. */
  async place(x: number, y: number): Promise<void> {
    const picture = this.picture;
    const name = this.next;
    if (!picture || name === '') return;
    const page = this.paged ? this.page : 0;
    if (await this.pinned(picture, { changes: picture.changes ?? 0, name, page, x, y })) {
      this.put = [...this.put, { picture: picture.id, name, page }];
      if (this.wanted === name) this.wanted = '';
    }
  }
  /** Takes a pin out. */
  pull(name: string) {
    const picture = this.picture;
    const page = this.paged ? this.page : 0;
    if (picture) void this.pinned(picture, { changes: picture.changes ?? 0, name, page, x: 0, y: 0, out: true });
  }
  /** Takes the last pin that was placed back, and asks for it again. */
  async undo(): Promise<void> {
    const last = this.put.at(-1);
    const picture = this.board?.pictures.find((p) => p.id === last?.picture);
    if (!last || !picture) return;
    const { name, page } = last;
    if (await this.pinned(picture, { changes: picture.changes ?? 0, name, page, x: 0, y: 0, out: true })) {
      this.put = this.put.slice(0, -1);
      this.choose(last.picture, page || 1);
      this.wanted = name;
    }
  }
  private pinned(picture: PictureView, pin: Pinned) {
    return this.change((sheet) => api.placePin(sheet, picture.id, pin));
  }

  look(
    as: Partial<{ name: string; seen: Seen; turn: number; mirror: boolean; struck: boolean }>,
    of = this.picture?.id,
  ) {
    const p = this.board?.pictures.find((x) => x.id === of) ?? this.board?.struck.find((x) => x.id === of);
    if (!p) return;
    const now = { name: p.name, seen: p.seen, turn: p.turn ?? 0, mirror: p.mirror ?? false, struck: p.struck ?? false };
    return this.change((sheet) => api.lookAtBoard(sheet, p.id, { ...now, ...as }));
  }

  /** Takes files in, one after the other; what a picture shows can be said afterwards. */
  async add(files: Iterable<File>): Promise<void> {
    for (const file of files) {
      this.sending++;
      const id = newId();
      const pdf = file.type === 'application/pdf';
      const had = (seen: Seen) => this.board?.pictures.some((p) => p.seen === seen) ?? false;
      const seen: Seen = pdf ? 'drawing' : !had('parts') ? 'parts' : !had('copper') ? 'copper' : 'other';
      const of = this.board?.pictures.filter((p) => p.seen === seen).length ?? 0;
      const plain = sides.find((s) => s.seen === seen)?.says ?? 'picture';
      const name = pdf
        ? file.name.replace(/\.pdf$/i, '').slice(0, 60) || plain
        : of === 0
          ? plain
          : `${plain} ${of + 1}`;
      if (await this.change((sheet) => api.addBoard(sheet, file, { id, name, seen }))) this.choose(id);
      else this.trouble = `${file.name}: ${this.trouble}`;
      this.sending--;
    }
  }
  async replace(file: File): Promise<void> {
    const picture = this.picture;
    if (!picture) return;
    this.sending++;
    await this.change((sheet) => api.replaceBoard(sheet, picture.id, file));
    this.sending--;
  }

  /** Changes something of the pictures; true where it worked. */
  private async change(act: (sheet: number) => Promise<Board>): Promise<boolean> {
    const sheet = this.board?.sheet;
    if (sheet === undefined) return false;
    try {
      const board = await this.fresh.change(() => act(sheet));
      if (!this.ofJob) this.board = board;
      this.trouble = '';
    } catch (error) {
      this.trouble = told(error);
      return false;
    }
    if (this.ofJob) await this.load();
    return true;
  }
}

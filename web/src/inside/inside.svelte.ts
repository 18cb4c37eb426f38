// What the view of a stage's inside knows: the stage looked into, what is aimed at, and what was typed.
import { practising } from '../practise/practising';
import { api, now, told } from '../api/client';
import { Entry } from '../shared/entry';
import { Fresh } from '../shared/fresh';
import type {
  StageWave,
  CircuitProposal,
  CircuitRanked,
  CircuitNodeReading,
  InsideView,
  StageEntry,
  StagePart,
} from '../api/types.gen';

/** What is noted: everything of an entry but what every entry has. */
export type Noting = Omit<StageEntry, 'id' | 'stage' | 'at'>;
export type What = CircuitNodeReading['what'];

export class Inside {
  view: InsideView | null = $state.raw(null);
  missing = $state('');
  trouble = $state('');
  busy = $state(false);
  text = $state(''); // as typed
  what: What = $state('dc');
  node = $state(''); // aimed at; empty: a part is
  part = $state('');
  to = $state(''); // the node that DC and ohms are read against; empty: ground
  hz = $state('1 kHz');
  drive = $state('10 mV'); // at the entry, for a shape
  shown = $state(0); // the explanation that is opened
  wave: StageWave | null = $state.raw(null); // at the exit, computed

  private readonly entry = new Entry();
  private readonly fresh = new Fresh();
  private stage = ''; // shown
  private wanted = $state(''); // asked for last; empty: what the trace names

  constructor(readonly number: number) {}

  get looked() {
    return this.view?.view ?? null;
  }
  get chosen(): StagePart | undefined {
    return this.looked?.parts.find((p) => p.name === this.part);
  }
  get ranked(): CircuitRanked[] {
    return this.looked?.diagnosis?.ranked.filter((r, i) => i === 0 || r.weight > 0.002).slice(0, 12) ?? [];
  }
  get next(): CircuitProposal[] {
    return this.looked?.diagnosis?.next ?? [];
  }
  /** What can be read of what is aimed at. */
  get readable(): What[] {
    if (this.node === '') {
      return this.chosen?.valued ? ['alone', 'checked'] : ['checked'];
    }
    return this.looked?.readable ?? ['dc', 'ohms'];
  }

  /** Whether what is read there is read between two nodes. */
  get against(): boolean {
    return this.node !== '' && (this.what === 'dc' || this.what === 'ohms');
  }
  /** What is read, in words. */
  get whatName(): string {
    const kind = this.chosen?.kind;
    if (this.what === 'alone' && (kind === 'joint' || kind === 'contact' || kind === 'changeover'))
      return 'ohms across it, power off';
    return whats[this.what];
  }

  /** Another stage is on its way: what is done now would be done to the wrong one. */
  get turning(): boolean {
    return this.wanted !== '' && this.wanted !== this.looked?.stage;
  }

  async load(stage = this.wanted): Promise<void> {
    this.wanted = stage;
    try {
      const view = await this.fresh.ask(() => api.inside(this.number, { stage }));
      if (stage !== this.wanted) return;
      if (!view) return await this.load(stage); // something was noted in between
      this.take(view);
      this.missing = '';
    } catch (error) {
      if (stage === this.wanted) this.wanted = this.stage;
      if (this.view === null) this.missing = told(error);
      else this.trouble = told(error);
    }
  }
  private take(view: InsideView) {
    const other = view.view.stage !== this.stage;
    this.view = view;
    this.stage = this.wanted = view.view.stage;
    if (other || (this.node === '' && this.part === '')) {
      this.shown = 0;
      this.text = '';
      this.wave = null;
      this.aimNext();
    }
    this.shown = Math.min(this.shown, Math.max(this.ranked.length - 1, 0));
    void this.follow(this.stage);
  }
  /** The signal in time takes longer: it comes when it is there. */
  private async follow(stage: string) {
    try {
      const { wave } = await api.insideWave(this.number, { stage });
      if (stage === this.stage) this.wave = wave;
    } catch {
      this.wave = null; // it is an addition: what is known without it stands
    }
  }
  /** Aims at what tells most, or at the first node. */
  aimNext() {
    const next = this.next[0];
    if (next) this.aimAt(next);
    else this.aimNode(this.looked?.figure.lines.find((l) => !l.ground)?.node ?? '');
  }
  aimAt(p: CircuitProposal) {
    if (p.part !== undefined) this.aimPart(p.part);
    else {
      this.aimNode(p.node ?? '');
      this.what = p.what as What;
      if (p.hz !== undefined) this.hz = p.hz;
    }
  }
  aimNode(node: string) {
    this.node = node;
    this.part = '';
    this.to = '';
    if (!this.readable.includes(this.what)) this.what = 'dc';
    this.trouble = '';
  }
  aimPart(part: string) {
    this.part = part;
    this.node = '';
    this.what = 'checked';
    this.trouble = '';
  }
  step(by: number) {
    const nodes = this.looked?.figure.lines.filter((l) => !l.ground).map((l) => l.node) ?? [];
    const at = nodes.indexOf(this.node);
    const next = nodes[Math.min(Math.max(at + by, 0), nodes.length - 1)];
    if (next !== undefined) this.aimNode(next);
  }
  along(by: number) {
    const parts = this.looked?.figure.columns.map((c) => c.part) ?? [];
    const at = parts.indexOf(this.part);
    const next = parts[Math.min(Math.max(at + by, 0), parts.length - 1)];
    if (next !== undefined) this.aimPart(next);
  }
  turn() {
    const all = this.readable;
    this.what = all[(all.indexOf(this.what) + 1) % all.length] ?? 'dc';
  }

  /** Logs what was typed as a reading of what is aimed at. */
  async log(): Promise<boolean> {
    const reading: CircuitNodeReading = { what: this.what, value: this.text.trim() };
    if (this.node === '') reading.part = this.part;
    else reading.node = this.node;
    if (this.against && this.to !== '') reading.to = this.to;
    if (this.what === 'gain' || this.what === 'shape') reading.hz = this.hz;
    if (this.what === 'shape') reading.drive = this.drive;
    const done = await this.note({ reading });
    if (done) {
      this.text = '';
      this.aimNext();
    }
    return done;
  }
  /** Has the meter measure what is aimed at; a practice meter's probe is put there first, as hands would. */
  async takeIt(): Promise<void> {
    if (practising) {
      this.text = this.what === 'checked' ? 'good' : '0'; // the set answers, whatever is sent
      await this.log();
      this.text = '';
      return;
    }
    const what = ({ dc: 'dc', ohms: 'resistance', frequency: 'frequency' } as const)[this.what as 'dc'];
    if (this.node === '' || what === undefined) {
      this.trouble = 'A meter takes DC volts, ohms and a frequency at a node. Type what this asks for.';
      return;
    }
    this.busy = true;
    this.trouble = '';
    try {
      const { instruments } = await api.instruments();
      const meter = instruments.find((i) => i.kind === 'meter');
      if (!meter) throw new Error('No meter is known. Add yours under Instruments, on the bench.');
      if (meter.standIn)
        await api.hands(this.number, {
          probe: this.node,
          generator: false,
          conditions: { route: '', injected: null, instrument: 'meter' },
        });
      this.text = (await api.measure(meter.id, { what })).text;
    } catch (error) {
      this.trouble = told(error);
    } finally {
      this.busy = false;
    }
  }
  async note(noting: Noting): Promise<boolean> {
    const id = this.entry.idOf([this.stage, noting]);
    const done = await this.send(() => api.noteInside(this.number, { id, stage: this.stage, at: now(), ...noting }));
    if (done) this.entry.done();
    return done;
  }
  async strike(id: string): Promise<boolean> {
    return this.send(() => api.strikeInside(this.number, id, {}, { stage: this.stage }));
  }
  /** Keeps the stage's circuit in the sheet. */
  async keep(rows: string[][], family = ''): Promise<boolean> {
    const view = this.view;
    if (!view) return false;
    return this.send(async () => {
      await api.keepCircuit(view.sheetId, { revision: view.revision, stage: this.stage, rows, family });
      return api.inside(this.number, { stage: this.stage });
    });
  }
  private async send(act: () => Promise<InsideView>): Promise<boolean> {
    if (this.busy || this.turning) return false;
    this.busy = true;
    try {
      const view = await this.fresh.change(act);
      if (!this.turning) this.take(view);
      this.trouble = '';
      return true;
    } catch (error) {
      this.trouble = told(error);
      return false;
    } finally {
      this.busy = false;
    }
  }
}

export const whats: Record<What, string> = {
  dc: 'DC volts',
  gain: 'gain',
  shape: 'shape of a sine',
  ripple: 'ripple or swing, p-p',
  frequency: 'frequency',
  duty: 'share of its time that it is high',
  ohms: 'ohms, power off',
  alone: 'its value alone, a leg lifted',
  checked: 'good or bad, by itself',
};

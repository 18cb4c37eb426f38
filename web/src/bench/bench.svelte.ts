// What the bench screen knows: the job as the server sees it, and what the
// person is about to do.
import { api, newId, now, Refusal, told } from '../api/client';
import { Entry } from '../shared/entry';
import { Fresh } from '../shared/fresh';
import { readsOff } from '../practise/practising';
import { me } from '../shared/me.svelte';
import { site } from '../shared/site.svelte';
import type { Growth } from './grow';
import type {
  BenchSetting,
  ChartTaken,
  Conditions,
  Echo,
  Ground,
  Injection,
  InstrumentsView,
  JobView,
  Judged,
  LineFinding,
  NotedRepair,
  NotedSymptom,
  Outcome,
  PracticeView,
  Probe,
  RepairRemoved,
  Spot,
  TrainingFace,
} from '../api/types.gen';

export type Quantity = Probe['quantity'];

const quantityNames: Record<Quantity, string> = {
  '': '',
  ac: 'signal',
  dc: 'DC volts',
  frequency: 'frequency',
  resistance: 'ohms, set off',
  current: 'current',
  power: 'power',
  deviation: 'deviation',
  distortion: 'distortion',
  temperature: 'temperature',
  track: 'volts along the track',
  provocation: 'what was done',
};

/** What is heard of a touch, by its key: each is one press. */
export const touches = [
  { key: '1', word: 'hum', says: 'loud' },
  { key: '2', word: 'weak', says: 'faint' },
  { key: '3', word: 'none', says: 'nothing' },
  { key: '4', word: 'crackle', says: 'only the contact crackles' },
];

/** A current (A) fed in at a place on a rail's copper. */
export interface Feed {
  at: string;
  amps: number;
}

/** The route a reading is taken on, and what is fed in for it (null: the sheet's own signal at its entry). */
export interface Stand {
  route: string;
  injected: Injection | null;
}

/** How the bench has to stand for what is asked for; null where it does not matter. */
function standing(asked: Stand | null): Stand | null {
  return asked && asked.route !== '' ? { route: asked.route, injected: asked.injected } : null;
}

/** A bench that stands as it is set. */
const plainly = { route: '', injected: null, without: [], worked: false };

/** The level that is fed in, as it is typed. */
export function levelText(injected: Injection | null): string {
  if (injected?.touch) return 'touch';
  return injected?.level ? `${injected.level} Vrms` : '';
}

/** A line of the log: a reading, what was done to the set between readings, or what it showed by itself. */
export interface Told {
  key: string;
  at: string;
  reading?: Judged;
  repair?: NotedRepair;
  symptom?: NotedSymptom;
}

export class Bench {
  view: JobView | null = $state.raw(null);
  missing = $state(''); // why there is nothing to show
  trouble = $state(''); // why the last thing did not work
  aim = $state(''); // name of a point or rail
  quantity: Quantity = $state('ac');
  text = $state('');
  echo: Echo | null = $state.raw(null);
  busy = $state(false);
  lifted: string[] = $state([]); // or swapped, as the person said, until it is back
  private out: string[] = $state([]); // what is asked to be lifted for what is aimed at
  capture = ''; // id of the captured waveform that what is typed was read from
  worked = $state(false); // the aimed control is worked while reading
  /** The conditions that a reading no longer has, and what brings them back. */
  dropped: { says: string; undo: () => void } | null = $state.raw(null);
  stand: Stand | null = $state.raw(null); // how the bench stands for what is proposed; null: as it is set
  tools: InstrumentsView | null = $state.raw(null); // the instruments
  practice: PracticeView | null = $state.raw(null); // the practice bench, where there is one
  second = $state(''); // the point of a scope's second probe
  told = $state(''); // what an instrument said
  private shown: { of: string; face: TrainingFace } | null = $state.raw(null);
  feed: Feed | null = $state.raw(null); // a current fed into a rail's copper

  private readonly entry = new Entry(); // the reading being typed
  private running: Promise<unknown> = Promise.resolve();
  private aimings = 0; // how often something was aimed at
  private turned = false; // whether the control is worked was said by hand since the aim moved
  private readonly provocation = new Entry();
  private asking: AbortController | null = null;
  private readonly fresh = new Fresh();

  /** Next says what is asked for next on this screen; left out, what the trace proposes. */
  constructor(
    readonly number: number,
    private readonly wanted?: (view: JobView) => { point: string; quantity: Quantity; without: string[] } | null,
  ) {}

  get findings() {
    return this.view?.findings ?? null;
  }
  get points() {
    return this.findings?.points ?? [];
  }
  get aimAt(): number {
    return this.points.findIndex((p) => p.name === this.aim);
  }
  get next(): Probe | null {
    return this.view?.finished ? null : (this.findings?.next ?? null);
  }
  get isRail(): boolean {
    return this.findings?.rails.some((r) => r.name === this.aim) ?? false;
  }
  /** The control that is aimed at. */
  get control(): LineFinding | undefined {
    return this.findings?.controls.find((c) => c.name === this.aim);
  }
  /** What the aim is; nothing where the sheet does not have it. */
  get spot(): Spot | undefined {
    return this.view?.spots.find((s) => s.name === this.aim);
  }
  /** What is lifted or swapped while reading. */
  get without(): string[] {
    return [...this.lifted, ...this.out.filter((name) => !this.lifted.includes(name))];
  }
  /** What can be read at the aim, in the order of turning. */
  private get readable(): Quantity[] {
    return this.spot?.quantities ?? [];
  }
  get quantityName(): string {
    if (!this.isRail || this.quantity !== 'ac') return quantityNames[this.quantity];
    return this.readable[0] === 'ac' ? 'AC volts' : 'ripple';
  }
  /** What has to be different from the bench as it is set, in words; empty where nothing has. */
  get otherwise(): string {
    const view = this.view;
    if (!view || !this.stand) return '';
    const route = this.stand.route === view.route ? '' : view.routes.find((r) => r.key === this.stand?.route)?.name;
    const entry = this.points[0]?.name; // of the route being traced
    const at = this.stand.injected?.at ?? (route ? '' : entry);
    const by = this.stand.injected?.touch ? 'a touch' : 'the signal fed in';
    const fed = at && (this.stand.injected?.touch || at !== (view.injected?.at ?? entry)) ? `${by} at ${at}` : '';
    return [route ? `the set on ${route}` : '', fed].filter(Boolean).join(', ');
  }
  get turns(): boolean {
    return this.readable.length > 1;
  }
  get conditions(): Conditions {
    const onRail = this.spot?.kind === 'place' || (this.spot === undefined && this.feed !== null);
    const feed = onRail && this.feed ? { at: this.feed.at, level: this.feed.amps } : null;
    return {
      route: this.stand?.route ?? this.view?.route ?? '',
      injected: feed ?? (this.stand ? this.stand.injected : (this.view?.injected ?? null)),
      instrument: this.view?.instrument ?? '',
    };
  }
  /** Readings, the newest first. */
  get log(): Judged[] {
    return (this.findings?.readings ?? []).toReversed();
  }

  /** Where something can be done to make the fault come or go: stages first. */
  get provokable(): string[] {
    const f = this.findings;
    const lines = [...(f?.rails ?? []), ...(f?.controls ?? [])];
    return [...(f?.stages ?? []), ...this.points, ...lines].map((x) => x.name);
  }

  /** Readings, repairs and what was noticed, the newest first. */
  get story(): Told[] {
    const readings = this.log.map((j): Told => ({ key: `r${j.reading.id}`, at: j.reading.taken, reading: j }));
    const repairs = (this.view?.repairs ?? []).map((r): Told => ({ key: `d${r.id}`, at: r.at, repair: r }));
    const symptoms = (this.view?.symptoms ?? []).map((s): Told => ({ key: `y${s.id}`, at: s.at, symptom: s }));
    return [...readings, ...repairs.toReversed(), ...symptoms].sort((a, b) => Date.parse(b.at) - Date.parse(a.at));
  }

  /** Which instruments there are, and how the practice bench stands: both at once, or a key would act between them. */
  async loadTools() {
    try {
      const tools = await api.instruments();
      const practice = tools.practice ? await api.practice(this.number) : null;
      this.practice = practice;
      this.tools = tools;
    } catch {
      this.tools = null; // the job itself says when nothing answers
    }
  }
  /** What hands and instruments do comes one after the other, however fast the keys are. */
  private doing: Promise<void> = Promise.resolve();
  private taking = false; // one is under way, or waits

  /** Whether, in practice, readings are read off by whoever works. */
  get readsOff(): boolean {
    void this.view; // looked at again with it
    return readsOff() && !this.touching;
  }
  private get aimed(): string {
    const { point, quantity, without, worked, conditions } = this.typed;
    return JSON.stringify([point, quantity, without, worked, conditions, this.view?.findings?.readings.length]);
  }
  /** What is shown of what is aimed at, to be read off. */
  get face(): TrainingFace | null {
    return this.shown?.of === this.aimed ? this.shown.face : null;
  }
  /** Has what is aimed at shown. */
  private look(): Promise<void> {
    return this.tooling(async () => {
      const of = this.aimed;
      this.shown = { of, face: await api.face(this.number, { ...this.typed, id: newId(), text: '' }) };
    });
  }
  /** Has an instrument take what is aimed at. */
  takeIt(): Promise<void> {
    if (this.readsOff) return this.look();
    if (this.taking) return this.doing;
    this.taking = true;
    this.doing = this.doing.then(async () => {
      const stand = this.stand;
      const asked = this.named({ ...this.typed, text: '', capture: '', second: this.second, mains: site.mains });
      const took = await this.change(() => api.take(this.number, asked), true);
      if (took) this.entry.done();
      else this.stand = stand;
      this.taking = false;
      await this.loadTools();
    });
    return this.doing;
  }
  /** Sets the generator to what is fed in. */
  feedIt(): Promise<void> {
    return this.tooling(async () => {
      this.told = (await api.feed(this.number, this.conditions)).text;
      if (this.practice) this.practice = await api.practice(this.number);
    });
  }
  /** Puts the practice probe where the aim is, and the generator where it is fed in. */
  hands(): Promise<void> {
    return this.tooling(async () => {
      this.practice = await api.hands(this.number, {
        probe: this.aim,
        second: this.second,
        generator: true,
        conditions: this.conditions,
      });
    });
  }
  private tooling(work: () => Promise<void>): Promise<void> {
    this.doing = this.doing.then(async () => {
      this.busy = true;
      this.trouble = this.told = '';
      try {
        await work();
      } catch (error) {
        this.trouble = told(error);
      } finally {
        this.busy = false;
      }
    });
    return this.doing;
  }

  private get draft(): string {
    return `steptrace.draft.${this.number}`;
  }

  /** Takes the server's view over; aims at the proposed point where asked. */
  private take(view: JobView, follow: boolean) {
    this.view = view;
    this.trouble = this.told = '';
    if (follow || this.spot === undefined) this.aimNext();
  }

  async load() {
    try {
      const view = await this.fresh.ask(() => api.job(this.number));
      if (!view) return;
      const first = this.view === null;
      this.take(view, first);
      const goTo = view.findings?.state === 'elsewhere' && view.finished === null ? view.findings.goTo : '';
      // A job is opened where its suspects are; a device that was let in for readings alone leaves the bench as it stands.
      if (first && goTo !== '' && !me.view?.job) await this.set({ route: goTo, at: '', level: '', frequency: '' });
      if (first) this.restore();
    } catch (error) {
      if (this.view === null) this.missing = told(error);
      else this.trouble = told(error);
    }
  }

  /** A reading half typed survives a reload of the page. */
  private restore() {
    const draft = sessionStorage.getItem(this.draft);
    if (!draft) return;
    const [aim, text] = draft.split('\n');
    if (!aim || !text) return;
    this.aimFor(aim);
    if (this.spot === undefined) this.aimNext();
    else this.type(text);
  }

  /** Where the aim goes when nothing is asked for: the exit, or what it was at in a set without a way for a signal. */
  private get last(): string {
    return this.points.at(-1)?.name ?? (this.spot ? this.aim : (this.view?.spots[0]?.name ?? ''));
  }

  /** Aims at the next of some lines that was not read; with all read, at the next one. */
  aimNextOf(lines: LineFinding[]) {
    const at = lines.findIndex((l) => l.name === this.aim);
    const ahead = [...lines.slice(at + 1), ...lines.slice(0, Math.max(at, 0))];
    const unread = (l: LineFinding) => l.read === '' || (l.moves !== '' && l.moved === '');
    const line = ahead.find(unread) ?? ahead[0];
    if (!line) return;
    this.aimFor(line.name);
    this.worked = line.read !== '' && unread(line); // as it stands it was read
  }

  /** Goes on to the next route, with the sheet's own signal. */
  nextRoute() {
    const routes = this.view?.routes ?? [];
    const at = routes.findIndex((r) => r.key === this.view?.route);
    const route = routes[(at + 1) % routes.length];
    if (route) void this.set({ route: route.key, at: '', level: '', frequency: '' });
  }

  /** Aims at what is asked for next: the proposed probe, or what is missing before a stage is condemned. */
  aimNext() {
    if (this.wanted) {
      const wanted = this.view ? this.wanted(this.view) : null;
      const asked = wanted && wanted.without.length > 0 ? { ...plainly, without: wanted.without } : null;
      this.aimFor(wanted?.point ?? this.last, wanted?.quantity, asked);
      return;
    }
    const missing = this.next ? undefined : this.findings?.grounds.find((g) => g.proof === 'missing' && g.point !== '');
    if (missing) {
      this.aimForGround(missing);
      return;
    }
    const read = this.next?.quantity === 'provocation' ? null : this.next; // what is done is taken down by itself
    const lifted = this.lifted;
    this.lifted = []; // what was lifted for one reading is back for the next, unless it is said to be out still
    this.aimFor(read?.point ?? this.last, read?.quantity, read);
    this.dropped =
      lifted.length > 0 ? { says: `${lifted.join(', ')} lifted or swapped`, undo: () => this.lift(lifted) } : null;
  }

  /**
   * Aims at something. The conditions of what is asked for there hold at that aim only: aiming elsewhere drops
   * them, and says so.
   */
  aimFor(name: string, quantity?: Quantity, asked: (Stand & { without: string[]; worked: boolean }) | null = null) {
    const had = [this.out.length > 0 ? `${this.out.join(', ')} lifted` : '', this.otherwise].filter(Boolean);
    const elsewhere = name !== this.aim && asked === null;
    const before = { name: this.aim, quantity: this.quantity, stand: this.stand, out: this.out, worked: this.worked };
    this.dropped =
      elsewhere && had.length > 0
        ? {
            says: had.join(', '),
            undo: () => {
              this.aimFor(before.name, before.quantity);
              [this.stand, this.out, this.worked, this.dropped] = [before.stand, before.out, before.worked, null];
            },
          }
        : null;
    this.aim = name;
    this.aimings++;
    this.stand = standing(asked);
    this.worked = asked?.worked ?? false;
    this.turned = false;
    this.out = [...(asked?.without ?? [])];
    const can = this.readable;
    this.quantity = quantity && can.includes(quantity) ? quantity : (can[0] ?? 'ac');
    if (this.text !== '') this.type(this.text); // it means something else there
  }

  /** Aims at what a ground for condemning a stage asks for. */
  aimForGround(ground: Ground) {
    this.aimFor(ground.point, ground.quantity, ground);
    this.dropped = null;
  }
  /** Reads as the bench is set: nothing lifted, nothing worked, nothing fed in elsewhere. */
  plain() {
    this.lifted = this.out = [];
    this.worked = false;
    this.stand = null;
    this.dropped = null;
    if (this.text !== '') this.type(this.text);
  }
  /** What was lifted or swapped by hand holds until it is said to be back. */
  lift(names: string[]) {
    this.lifted = names;
    this.out = [];
    this.dropped = null;
    if (this.text !== '') this.type(this.text);
  }

  /** Moves the aim along the route. */
  step(by: number) {
    const at = this.aimAt < 0 ? 0 : Math.min(Math.max(this.aimAt + by, 0), this.points.length - 1);
    const point = this.points[at];
    if (point) this.aimFor(point.name);
  }

  turnQuantity() {
    const can = this.readable;
    this.quantity = can[(can.indexOf(this.quantity) + 1) % can.length] ?? this.quantity;
    this.type(this.text);
  }

  turnWorked() {
    if (!this.control?.moves) return;
    // The first press says that it is worked, even where that was asked for already.
    this.worked = this.turned ? !this.worked : true;
    this.turned = true;
    if (this.text !== '') this.type(this.text);
  }

  /** What is to be logged, with the id it is sent under. */
  private named<T>(typed: T): T {
    return { ...typed, id: this.entry.idOf(typed) };
  }
  private get typed() {
    return {
      id: '',
      point: this.aim,
      quantity: this.quantity,
      text: this.text,
      without: [...this.without],
      worked: this.worked,
      capture: this.capture,
      conditions: this.conditions,
    };
  }

  /** Takes the text typed so far, and asks what it would mean; read from a capture, where its id is given. */
  type(text: string, capture = text === '' ? '' : this.capture) {
    this.text = text;
    this.capture = capture;
    this.trouble = '';
    this.asking?.abort();
    if (text.trim() === '') {
      this.echo = null;
      sessionStorage.removeItem(this.draft);
      return;
    }
    sessionStorage.setItem(this.draft, `${this.aim}\n${text}`);
    const asking = new AbortController();
    this.asking = asking;
    api.echo(this.number, this.typed, asking.signal).then(
      (echo) => {
        if (!asking.signal.aborted) this.echo = echo;
      },
      (error: unknown) => {
        if (asking.signal.aborted) return;
        this.echo = null;
        if (error instanceof Refusal && error.details.status !== 0) this.trouble = error.message;
      },
    );
  }

  /**
   * Logs what is typed; true where it worked. Otherwise the text comes back, to be sent again. What is typed until
   * the answer is there belongs to the next reading.
   */
  async logTyped(): Promise<boolean> {
    if (this.busy || this.text.trim() === '') return false;
    const typed = this.named({ ...this.typed, readOff: this.readsOff });
    const asked = { ...this.conditions, without: typed.without, worked: typed.worked };
    const [stand, lifted] = [this.stand, this.lifted];
    this.type('');
    const logged = await this.change(() => api.log(this.number, typed), true);
    if (logged) {
      this.entry.done();
    } else {
      const trouble = this.trouble;
      this.aimFor(typed.point, typed.quantity, asked);
      this.stand = stand;
      this.lifted = lifted;
      this.type(typed.text, typed.capture);
      this.trouble = trouble;
    }
    return logged;
  }

  /** Whether the signal is a touch, so that a word of what is heard is all there is to log. */
  get touching(): boolean {
    return this.conditions.injected?.touch ?? false;
  }
  /** Logs what was heard of a touch. */
  async touched(key: string): Promise<boolean> {
    const heard = touches.find((t) => t.key === key);
    if (!heard) return false;
    this.type(heard.word);
    return this.logTyped();
  }

  /** Logs what was done at a place to make the fault come or go, and what came of it. */
  async provoke(point: string, text: string): Promise<boolean> {
    const id = this.provocation.idOf([point, text, this.conditions]);
    const logged = await this.change(
      () => api.log(this.number, { id, point, quantity: 'provocation', text, conditions: this.conditions }),
      true,
    );
    if (logged) this.provocation.done();
    return logged;
  }
  strike(id: string, reason: string) {
    return this.change(() => api.strike(this.number, id, { reason }), false);
  }
  set(setting: Partial<BenchSetting>) {
    const now = this.view;
    const whole: BenchSetting = {
      route: now?.route ?? '',
      instrument: now?.instrument ?? '',
      way: now?.way ?? 'halve',
      at: now?.injected?.at ?? '',
      level: levelText(now?.injected ?? null),
      frequency: now?.injected?.hz ? `${now.injected.hz} Hz` : '',
    };
    // Another route, place to feed in or way of working changes what to probe next; the aim goes along.
    const follow = setting.at !== undefined || setting.way !== undefined;
    return this.change(() => api.setBench(this.number, { ...whole, ...setting }), follow);
  }
  /** Does without a ground for condemning the stage that is named, or without something to be shown after a repair. */
  waive(key: string, reason: string) {
    const verifying = this.findings?.verify.some((g) => g.key === key) ?? false;
    const stage = verifying ? '' : (this.findings?.stage ?? '');
    return this.change(() => api.waive(this.number, { stage, key, reason }), true);
  }
  /** Adds to the sheet what hangs on a rail. */
  hang(rail: string, names: string[]) {
    return this.change(() => api.hang(this.number, { rail, names }), false);
  }
  /** Logs how something on a rail was felt, a current being fed into that. */
  async felt(rail: string, name: string, word: 'warm' | 'cold', amps: number): Promise<boolean> {
    this.lift([]);
    this.feed = { at: rail, amps };
    this.aimFor(name);
    this.type(word);
    return this.logTyped();
  }
  /** What was put in for a while is out again, or what was lifted is back. */
  remove(removed: RepairRemoved) {
    return this.change(() => api.noteRepair(this.number, { id: newId(), at: now(), removed }), true);
  }
  strikeRepair(id: string) {
    return this.change(() => api.strikeRepair(this.number, id, {}), true);
  }
  /** Takes over how the job stands after something was noted elsewhere. */
  noted(view: JobView) {
    void this.change(() => Promise.resolve(view), true);
  }
  finish(outcome: Outcome) {
    return this.change(() => api.finish(this.number, outcome), false);
  }
  reopen() {
    return this.change(() => api.reopen(this.number), true);
  }

  /** Changes the sheet; the aim follows what got another name. */
  async grow(growth: Growth): Promise<boolean> {
    const renamed = growth.do === 'name' && this.aim === growth.at ? growth.name : undefined;
    return this.change(async () => {
      const { job } = await api.grow(this.number, { revision: this.view?.revision ?? 0, ...growth }, { preview: '' });
      if (!job) throw new Error('the sheet was not changed');
      if (renamed !== undefined) this.aim = renamed;
      return job;
    }, false);
  }

  takeChart(taken: Omit<ChartTaken, 'revision'>) {
    return this.change(() => api.takeChart(this.number, { revision: this.view?.revision ?? 0, ...taken }), false);
  }

  takeBack() {
    return this.change(() => api.takeBack(this.number, { revision: this.view?.revision ?? 0 }), false);
  }

  /** When what was done last has come back. */
  get settled(): Promise<unknown> {
    return this.running;
  }

  /** Does something that changes the job; true where it worked. */
  private change(act: () => Promise<JobView>, follow: boolean): Promise<boolean> {
    const running = this.changed(act, follow);
    this.running = running;
    return running;
  }
  private async changed(act: () => Promise<JobView>, follow: boolean): Promise<boolean> {
    this.busy = true;
    const aimings = this.aimings;
    try {
      const view = await this.fresh.change(act);
      this.take(view, follow && this.aimings === aimings); // who aimed at something meanwhile stays there
      return true;
    } catch (error) {
      this.trouble = told(error);
      return false;
    } finally {
      this.busy = false;
    }
  }
}

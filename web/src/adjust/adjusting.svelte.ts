import { api, now, told } from '../api/client';
import type { AdjustEntry, AdjustStanding, AdjustView, EchoedAdjusting } from '../api/types.gen';
import { Entry } from '../shared/entry';
import { Kept } from '../shared/kept.svelte';

const everySecond = 1000; // ms: as often as a meter that is watched is asked
const every = 10_000; // as often as one looks again while time runs

/** The adjustments of a job: which one is worked on, what is typed of it, whether the meter is watched. */
export class Adjusting {
  readonly kept: Kept<AdjustView>;
  name = $state('');
  text = $state('');
  position = $state('');
  why = $state('');
  echo = $state.raw<EchoedAdjusting | null>(null);
  wrong = $state('');
  watching = $state(false);
  /** When the view was told, and now: what is left of a warm-up counts down from there. */
  private told = $state(0);
  clock = $state(Date.now());
  private entry = new Entry();
  private asking: AbortController | null = null;

  constructor(private readonly job: number) {
    this.kept = new Kept<AdjustView>(() => api.adjusting(this.job));
  }

  /** Looks, and goes on looking while it is shown; the result ends that. */
  begin(): () => void {
    void this.load();
    let looked = Date.now();
    const timer = setInterval(() => {
      this.clock = Date.now();
      if (this.watching) void this.watch();
      else if (this.clock - looked > every && this.at && this.at.warm.left > 0) {
        looked = this.clock;
        void this.load();
      }
    }, everySecond);
    return () => {
      clearInterval(timer);
      this.watching = false;
    };
  }

  async load() {
    await this.kept.load();
    this.told = this.clock = Date.now();
  }

  private list = $derived.by(() => this.kept.view?.adjustments ?? []);
  /** The one that is worked on: the one chosen, or the first that is not set. */
  at: AdjustStanding | undefined = $derived.by(
    () =>
      this.list.find((a) => a.name === this.name) ??
      this.list.find((a) => a.state !== 'set') ??
      this.list[0] ??
      undefined,
  );
  /** What is left of its warm-up, in seconds. */
  left = $derived.by(() => {
    const warm = this.at?.warm;
    if (!warm) return 0;
    return warm.since === null ? warm.left : Math.max(0, warm.left - Math.max(0, this.clock - this.told) / 1000);
  });
  /** The condition that is to be met next. */
  condition = $derived.by(() => this.at?.conditions.find((c) => !c.ticked));

  choose(name: string) {
    if (name !== this.at?.name) {
      this.text = this.position = this.why = this.wrong = '';
      this.echo = null;
    }
    this.name = name;
  }
  step(by: number) {
    const i = this.list.findIndex((a) => a.name === this.at?.name);
    const next = this.list[Math.max(0, Math.min(this.list.length - 1, i + by))];
    if (next) this.choose(next.name);
  }

  private async note(content: Omit<AdjustEntry, 'id' | 'at'>): Promise<boolean> {
    const id = this.entry.idOf(content);
    const done = await this.kept.keep(() => api.noteAdjusting(this.job, { id, at: now(), ...content }));
    if (done) {
      this.entry.done();
      this.told = this.clock = Date.now();
    }
    return done;
  }

  /** One thing after the other: a second tick is of the condition that is next then, what is left is what was kept before. */
  private working: Promise<unknown> = Promise.resolve();
  /** When all that was done before has arrived. */
  quiet() {
    return this.working;
  }
  tick(said?: string, off = false) {
    this.working = this.working.then(() => {
      const name = this.at?.name;
      const condition = said ?? this.condition?.text;
      if (name === undefined || condition === undefined) return;
      this.name = name;
      return this.note({ adjustment: name, tick: { condition, off } });
    });
  }
  warm() {
    return this.note({ warm: {} });
  }
  log(): Promise<boolean> {
    const logged = this.working.then(() => this.keepTyped());
    this.working = logged;
    return logged;
  }
  private async keepTyped() {
    const name = this.at?.name;
    const text = this.text.trim();
    if (name === undefined || text === '') return false;
    this.name = name;
    const position = this.position.trim();
    if (!(await this.note({ adjustment: name, read: { text, si: 0, position } }))) return false;
    this.text = this.position = '';
    this.echo = null;
    return true;
  }
  /** It is left as it was read last; then the next one comes. */
  async leave() {
    const name = this.at?.name;
    if (name === undefined) return;
    if (await this.note({ adjustment: name, left: { why: this.why.trim() } })) {
      this.why = '';
      this.choose('');
    }
  }
  strike() {
    const last = this.at?.readings.at(-1);
    if (last) void this.kept.keep(() => api.strikeAdjusting(this.job, last.id, {}));
  }
  heat(heat: NonNullable<AdjustEntry['heat']>) {
    return this.note({ heat });
  }
  setting(setting: NonNullable<AdjustEntry['setting']>) {
    return this.note({ setting });
  }
  async menu(text: string) {
    const id = this.entry.idOf({ text });
    const done = await this.kept.keep(() => api.noteMenu(this.job, { id, text }));
    if (done) this.entry.done();
    return done;
  }

  /** How what is typed reads. */
  type() {
    this.asking?.abort();
    this.wrong = '';
    const name = this.at?.name;
    if (name === undefined || this.text.trim() === '') {
      this.echo = null;
      return;
    }
    const asking = (this.asking = new AbortController());
    const typed = { adjustment: name, text: this.text, position: this.position };
    api.echoAdjusting(this.job, typed, asking.signal).then(
      (echo) => {
        if (!asking.signal.aborted) this.echo = echo;
      },
      (error: unknown) => {
        if (asking.signal.aborted) return;
        this.echo = null;
        this.wrong = told(error);
      },
    );
  }

  private waiting = false;
  /** Asks the meter once. */
  async watch() {
    const name = this.at?.name;
    if (name === undefined || this.waiting) return;
    this.waiting = true;
    const done = await this.kept.keep(() => api.watchAdjusting(this.job, { adjustment: name }));
    this.waiting = false;
    this.told = this.clock = Date.now();
    if (!done) this.watching = false;
  }
  /** What the meter shows now, to be kept as a reading. */
  keepSeen(text: string) {
    this.text = text;
    void this.log();
  }
}

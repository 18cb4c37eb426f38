import { api, newId, told } from '../api/client';
import type { SoakLog, SoakPlan, SoakView } from '../api/types.gen';
import { Kept } from '../shared/kept.svelte';
import { sound } from '../sound/sound.svelte';

const often = 1000; // ms between two looks while it runs
const patience = 5000; // ms
const closer = 2; // times a key brings the time nearer

/** The long run of a job: its plan while it is made, what it logs while it runs, the stretch of time that is looked at. */
export class Proving {
  readonly kept: Kept<SoakView>;
  log = $state.raw<SoakLog>({ from: 0, to: 0, traces: [] });
  /** The plan that is made, before it begins. */
  plan = $state<SoakPlan | null>(null);
  again = $state(false);
  /** The stretch that is looked at, in seconds; all of it where nothing is said. */
  from = $state(0);
  to = $state(0);
  text = $state('');
  trace = $state('');
  note = $state('');
  private id = newId();

  constructor(private readonly job: number) {
    this.kept = new Kept<SoakView>(() => api.soak(this.job, this.sounding ? { sounding: '1' } : {}));
  }

  begin(): () => void {
    void this.load();
    const timer = setInterval(() => {
      if (this.kept.view?.running && !document.hidden) void this.load();
    }, often);
    return () => {
      clearInterval(timer);
      if (this.sounding) sound.stop();
    };
  }

  /** What is to be played as sound now: the soak and its step; nothing where none is. */
  due = $derived.by(() => {
    const v = this.kept.view;
    const plays = v?.running === true && v.driven && v.plan.by === 'sound' && v.plan.steps[v.step]?.signal;
    return plays ? `soak of No. ${String(v.number)}, step ${String(v.step + 1)}` : '';
  });
  sounding = $derived.by(() => this.due !== '' && sound.playing === this.due && !sound.muted);
  /** Whether a person has let this page play: browsers want a key for it. */
  private plays = false;
  /** Plays what is due, where that was allowed; what is not due is silent at once. */
  follow() {
    if (this.due === '' && sound.playing.startsWith('soak ')) sound.stop();
    if (this.due !== '' && this.plays && sound.playing !== this.due) this.play();
  }
  play() {
    const { due, view } = this;
    if (due === '' || !view) return;
    this.plays = true;
    void sound
      .loop((at) => api.soakSound(this.job, { step: String(view.step), ...at }), due)
      .then((done) => {
        if (!done) this.plays = false;
        else if (this.due !== due) sound.stop();
        void this.load();
      });
  }

  /** When the server was heard of last: where it is silent nobody watches the limits, and nothing may be played. */
  private heard = Date.now();
  async load() {
    const before = this.kept.view;
    await this.kept.load();
    if (this.kept.view !== before) this.heard = Date.now();
    else if (this.sounding && Date.now() - this.heard > patience) sound.stop();
    await this.look();
  }

  view = $derived.by(() => this.kept.view);
  /** Whether a plan is being made. */
  making = $derived.by(() => this.view !== null && (!this.view.begun || this.again));
  /** How long the plan is; of one that has ended, how far it came. */
  length = $derived.by(() => {
    const v = this.view;
    if (!v?.begun) return 0;
    return v.running ? (v.ends.at(-1) ?? 0) : Math.max(v.state.t, 60);
  });
  right = $derived.by(() => (this.to > 0 ? Math.min(this.to, this.length) : this.length));
  left = $derived.by(() => Math.min(this.from, Math.max(0, this.right - 60)));

  /** What is asked for: a little more than is seen. */
  private async look() {
    if (!this.view?.begun) return;
    try {
      this.log = await api.soakLog(this.job, {
        from: String(Math.floor(this.left)),
        to: String(Math.ceil(this.right)),
      });
    } catch (error) {
      this.kept.trouble = told(error);
    }
  }
  zoom(by: number) {
    const now = this.view?.state.t ?? 0;
    const span = Math.max(120, Math.min(this.length, (this.right - this.left) * by));
    const middle = this.to > 0 ? (this.left + this.right) / 2 : Math.min(now, this.length);
    this.see(middle - span / 2, middle + span / 2);
  }
  closer() {
    this.zoom(1 / closer);
  }
  wider() {
    this.zoom(closer);
  }
  move(by: number) {
    const span = this.right - this.left;
    this.see(this.left + (by * span) / 4, this.right + (by * span) / 4);
  }
  private see(from: number, to: number) {
    const span = to - from;
    const left = Math.max(0, Math.min(from, this.length - span));
    this.from = left;
    this.to = span >= this.length ? 0 : left + span;
    if (this.to === 0) this.from = 0;
    void this.look();
  }

  make(): SoakPlan {
    return (this.plan ??= structuredClone($state.snapshot(this.view?.offer)) ?? { steps: [], traces: [] });
  }
  /** Whether everything that is logged is read of a simulated set, whose time can run faster. */
  simulated = $derived.by(
    () =>
      this.plan?.traces.every((t) => this.view?.loggers.find((l) => l.id === t.instrument)?.standIn ?? false) ?? false,
  );
  async start() {
    const plan = $state.snapshot(this.plan);
    if (!plan) return;
    if (plan.by === 'sound') {
      await sound.load();
      if (!sound.level(sound.output, 'out')) {
        this.kept.trouble =
          'What the computer’s sound gives in volts is not known yet: calibrate it once, on the bench (g 5, then y).';
        return;
      }
      this.plays = true;
    }
    if (!this.simulated || plan.by === 'sound') delete plan.speed; // what is typed, or read of a real set, takes real time
    for (const step of plan.steps) if (step.signal?.level.trim() === '') delete step.signal;
    if (await this.kept.keep(() => api.beginSoak(this.job, { id: this.id, plan }))) {
      this.id = newId();
      this.plan = null;
      this.again = false;
      this.from = this.to = 0;
      await this.look();
    }
  }
  do(what: 'stop' | 'on' | 'note' | 'end', text = '') {
    return this.kept.keep(() => api.doSoak(this.job, { do: what, text }));
  }
  async type() {
    const trace = this.typed?.name;
    const text = this.text.trim();
    if (trace === undefined || text === '') return false;
    if (!(await this.kept.keep(() => api.typeSoak(this.job, { trace, text })))) return false;
    this.text = '';
    this.trace = '';
    await this.look();
    return true;
  }
  /** What is typed next: the one chosen, the one that is due, or the first that is typed. */
  typed = $derived.by(() => {
    const typed = this.view?.state.traces.filter((t) => t.typed) ?? [];
    return typed.find((t) => t.name === this.trace) ?? typed.find((t) => t.due) ?? typed[0];
  });
}

// What the bench screen knows: the job as the server sees it, and what the
// person is about to do.
import { api, newId, Refusal, told } from '../api/client';
import type { BenchSetting, Conditions, Echo, JobView, Judged, Outcome, Probe } from '../api/types.gen';

export type Quantity = Probe['quantity'];

export const quantities: { key: Quantity; name: string }[] = [
  { key: 'ac', name: 'signal' },
  { key: 'dc', name: 'DC volts' },
  { key: 'frequency', name: 'frequency' },
  { key: 'resistance', name: 'ohms, set off' },
];

export class Bench {
  view: JobView | null = $state.raw(null);
  missing = $state(''); // why there is nothing to show
  trouble = $state(''); // why the last thing did not work
  aim = $state(''); // name of a point or rail
  quantity: Quantity = $state('ac');
  text = $state('');
  echo: Echo | null = $state.raw(null);
  busy = $state(false);

  private id = newId(); // of the reading being typed; kept when sending fails
  private asking: AbortController | null = null;

  constructor(readonly number: number) {}

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
  get conditions(): Conditions {
    return {
      route: this.view?.route ?? '',
      injected: this.view?.injected ?? null,
      instrument: this.view?.instrument ?? '',
    };
  }
  /** Readings, the newest first. */
  get log(): Judged[] {
    return (this.findings?.readings ?? []).toReversed();
  }

  private get draft(): string {
    return `steptrace.draft.${this.number}`;
  }

  /** Takes the server's view over; aims at the proposed point where asked. */
  private take(view: JobView, follow: boolean) {
    this.view = view;
    this.trouble = '';
    const known = this.points.some((p) => p.name === this.aim) || this.isRail;
    if (follow || !known) this.aimNext();
  }

  async load() {
    try {
      const view = await api.job(this.number);
      const first = this.view === null;
      this.take(view, first);
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
    if (aim && text && (this.points.some((p) => p.name === aim) || this.findings?.rails.some((r) => r.name === aim))) {
      this.aim = aim;
      this.type(text);
    }
  }

  /** Aims at what is asked for next: the proposed probe, or what is missing before a stage is condemned. */
  aimNext() {
    const wanted = this.next ?? this.findings?.missing[0];
    this.aimFor(wanted?.point ?? this.points.at(-1)?.name ?? '', wanted?.quantity ?? 'ac');
  }

  aimFor(name: string, quantity: Quantity = 'ac') {
    this.aim = name;
    this.quantity = this.isRail ? 'dc' : quantity;
    if (this.text !== '') this.type(this.text); // it means something else there
  }

  /** Moves the aim along the route. */
  step(by: number) {
    const at = this.aimAt < 0 ? 0 : Math.min(Math.max(this.aimAt + by, 0), this.points.length - 1);
    const point = this.points[at];
    if (point) this.aimFor(point.name);
  }

  turnQuantity() {
    const at = quantities.findIndex((q) => q.key === this.quantity);
    this.quantity = quantities[(at + 1) % quantities.length]?.key ?? 'ac';
    this.type(this.text);
  }

  private get typed() {
    return { id: this.id, point: this.aim, quantity: this.quantity, text: this.text, conditions: this.conditions };
  }

  /** Takes the text typed so far, and asks what it would mean. */
  type(text: string) {
    this.text = text;
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
    const typed = this.typed;
    this.type('');
    const logged = await this.change(() => api.log(this.number, typed), true);
    if (logged) {
      this.id = newId();
    } else {
      const trouble = this.trouble;
      this.aimFor(typed.point, typed.quantity);
      this.type(typed.text);
      this.trouble = trouble;
    }
    return logged;
  }

  strike(id: string, reason: string) {
    return this.change(() => api.strike(this.number, id, reason), false);
  }
  set(setting: Partial<BenchSetting>) {
    const now = this.view;
    const whole: BenchSetting = {
      route: now?.route ?? '',
      instrument: now?.instrument ?? '',
      at: now?.injected?.at ?? '',
      level: now?.injected?.level ? `${now.injected.level} Vrms` : '',
      frequency: now?.injected?.hz ? `${now.injected.hz} Hz` : '',
    };
    // Another route or place to feed in changes what to probe next; the aim goes along.
    return this.change(() => api.setBench(this.number, { ...whole, ...setting }), setting.at !== undefined);
  }
  finish(outcome: Outcome) {
    return this.change(() => api.finish(this.number, outcome), false);
  }
  reopen() {
    return this.change(() => api.reopen(this.number), true);
  }

  /** Does something that changes the job; true where it worked. */
  private async change(act: () => Promise<JobView>, follow: boolean): Promise<boolean> {
    this.busy = true;
    try {
      this.take(await act(), follow);
      return true;
    } catch (error) {
      this.trouble = told(error);
      return false;
    } finally {
      this.busy = false;
    }
  }
}

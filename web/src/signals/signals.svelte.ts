// What the signals screen knows: the captures of a job, those that are looked at, and the stretch of time shown.
import { api, told } from '../api/client';
import type { CaptureHead, CapturesView, Figure, Seen, Strip } from '../api/types.gen';
import { site } from '../shared/site.svelte';
import type { Span } from './plot';

/** One channel of one capture. */
export interface Look {
  key: string;
  capture: CaptureHead;
  channel: number;
  point: string;
}

export const mostStacked = 4;
const parts = 1600;

export class Signals {
  view: CapturesView | null = $state.raw(null);
  missing = $state('');
  trouble = $state('');
  shown: string[] = $state([]); // keys of those looked at, in the order of the route
  picked = $state(''); // the one whose figures stand beside
  seen: Record<string, Seen> = $state.raw({});
  strips: Record<string, Strip> = $state.raw({});
  against: Record<string, Record<string, string>> = $state.raw({}); // what each is compared with, where it was chosen
  span: Span = $state.raw({ from: 0, to: 1 }); // seconds; zero is where each first rises
  cursors: { a: number | null; b: number | null } = $state.raw({ a: null, b: null });
  between: Figure[] = $state.raw([]);

  private asked = 0;
  private waiting = false;

  constructor(readonly number: number) {}

  /** All channels of all captures, in the order of the route, the latest first at each point. */
  get all(): Look[] {
    const view = this.view;
    if (!view) return [];
    const place = (point: string) => {
      const at = view.points.indexOf(point);
      return at < 0 ? view.points.length : at;
    };
    return view.captures
      .filter((c) => !c.struck)
      .flatMap((capture) =>
        capture.channels.map((ch, channel) => ({
          key: `${capture.id}/${channel}`,
          capture,
          channel,
          point: ch.point,
        })),
      )
      .toSorted((a, b) => place(a.point) - place(b.point) || b.capture.taken.localeCompare(a.capture.taken));
  }
  get looks(): Look[] {
    return this.all.filter((l) => this.shown.includes(l.key));
  }
  get look(): Look | undefined {
    return this.looks.find((l) => l.key === this.picked) ?? this.looks[0];
  }
  get now(): Seen | undefined {
    return this.look && this.seen[this.look.key];
  }
  /** The whole time of all that is shown. */
  get whole(): Span {
    const spans = this.looks.map((l) => {
      const rises = this.seen[l.key]?.rises ?? 0;
      return { from: -rises, to: l.capture.seconds - rises };
    });
    if (spans.length === 0) return { from: 0, to: 1 };
    return { from: Math.min(...spans.map((s) => s.from)), to: Math.max(...spans.map((s) => s.to)) };
  }

  async load(wanted = '') {
    try {
      this.view = await api.captures(this.number);
      this.missing = '';
    } catch (error) {
      if (this.view === null) this.missing = told(error);
      else this.trouble = told(error);
      return;
    }
    this.forget();
    const first = this.all.find((l) => l.capture.id === wanted) ?? (this.shown.length === 0 ? this.all[0] : undefined);
    if (first) await this.show(first.key, false);
  }

  /** What is no longer there is not looked at. */
  private forget() {
    const known = this.all.map((l) => l.key);
    this.shown = this.shown.filter((k) => known.includes(k));
  }

  /** Looks at one, alone or under those already there. */
  async show(key: string, stacked: boolean) {
    if (stacked && this.shown.includes(key) && this.shown.length > 1) {
      this.shown = this.shown.filter((k) => k !== key);
    } else {
      this.shown = stacked ? [...this.shown, key].slice(-mostStacked) : [key];
      this.picked = key;
    }
    await Promise.all(this.looks.map((l) => this.see(l)));
    if (!stacked) this.few();
    else this.move(this.span);
  }

  private async see(look: Look, again = false) {
    if (this.seen[look.key] && !again) return;
    try {
      const seen = await api.capture(this.number, look.capture.id, this.asks(look));
      this.seen = { ...this.seen, [look.key]: seen };
      this.trouble = '';
    } catch (error) {
      this.trouble = told(error);
    }
  }

  /** What a question about a channel carries along. */
  private asks(look: Look): Record<string, string> {
    return { channel: String(look.channel), mains: site.mains, pilot: site.pilot, ...this.against[look.key] };
  }

  /** Compares the picked one with something else. */
  compare(key: string) {
    return this.compareBy({ against: key });
  }
  /** Compares it with what a manual describes. */
  describe(shape: string, level: string, frequency: string) {
    return this.compareBy({ against: 'described', shape, level, frequency });
  }
  private async compareBy(how: Record<string, string>) {
    const look = this.look;
    if (!look) return;
    const before = this.against;
    this.against = { ...before, [look.key]: how };
    await this.see(look, true);
    if (this.trouble) this.against = before; // it goes on as it was
    this.move(this.span);
  }

  /** All is measured anew, for another mains frequency or pilot. */
  async again() {
    await Promise.all(this.looks.map((l) => this.see(l, true)));
    this.move(this.span);
  }

  /** The first few periods of the picked one. */
  few() {
    const now = this.now;
    if (now) this.move({ from: now.few.from - now.rises, to: now.few.to - now.rises });
  }

  /** Shows a stretch of time, kept within what there is. */
  move(span: Span) {
    const whole = this.whole;
    const least = Math.min(...this.looks.map((l) => 4 / l.capture.rate), whole.to - whole.from);
    const width = Math.min(Math.max(span.to - span.from, least), whole.to - whole.from);
    const middle = (span.from + span.to) / 2;
    const from = Math.min(Math.max(middle - width / 2, whole.from), whole.to - width);
    this.span = { from, to: from + width };
    this.fetch();
  }
  zoom(by: number, about = (this.span.from + this.span.to) / 2) {
    this.move({ from: about - (about - this.span.from) * by, to: about + (this.span.to - about) * by });
  }
  shift(by: number) {
    const width = this.span.to - this.span.from;
    this.move({ from: this.span.from + by * width, to: this.span.to + by * width });
  }

  /** Asks for what is to be drawn; while one answer is on its way only the last wish counts. */
  private fetch() {
    this.asked++;
    if (this.waiting) return;
    this.waiting = true;
    void (async () => {
      let done = 0;
      while (done !== this.asked) {
        done = this.asked;
        await Promise.all(this.looks.map((l) => this.cut(l)));
      }
      this.waiting = false;
    })();
  }
  private async cut(look: Look) {
    const seen = this.seen[look.key];
    if (!seen) return;
    try {
      const strip = await api.cut(this.number, look.capture.id, {
        ...this.asks(look),
        from: String(this.span.from + seen.rises),
        to: String(this.span.to + seen.rises),
        parts: String(parts),
      });
      this.strips = { ...this.strips, [look.key]: strip };
    } catch (error) {
      this.trouble = told(error);
    }
  }

  /** Takes both cursors away. */
  clear() {
    this.cursors = { a: null, b: null };
    this.between = [];
  }

  /** Puts a cursor somewhere, and reads what is at the two and between them. */
  async place(which: 'a' | 'b', at: number | null) {
    this.cursors = { ...this.cursors, [which]: at };
    const { a, b } = this.cursors;
    const look = this.look;
    const now = this.now;
    if (a === null || b === null || !look || !now) {
      this.between = [];
      return;
    }
    try {
      const answer = await api.stretch(this.number, look.capture.id, {
        ...this.asks(look),
        a: String(a + now.rises),
        b: String(b + now.rises),
      });
      if (this.cursors.a === a && this.cursors.b === b) this.between = answer.list;
    } catch (error) {
      this.trouble = told(error);
    }
  }

  async good(look: Look) {
    await this.change(() => api.goodCapture(this.number, look.capture.id, { good: !look.capture.good }));
  }
  async strike(look: Look) {
    await this.change(() => api.strikeCapture(this.number, look.capture.id, {}));
  }
  private async change(act: () => Promise<CapturesView>) {
    try {
      this.view = await act();
      this.forget();
      const first = this.all[0];
      if (this.shown.length === 0 && first) await this.show(first.key, false);
    } catch (error) {
      this.trouble = told(error);
    }
  }
}

import { api, told } from '../api/client';
import type { ClosingStanding, ClosingView, EchoedClosing } from '../api/types.gen';
import { Entry } from '../shared/entry';
import { Kept } from '../shared/kept.svelte';

/** The closing measurements of a job: which one is worked on, what is typed of it. */
export class Closings {
  readonly kept: Kept<ClosingView>;
  name = $state('');
  text = $state('');
  why = $state('');
  echo = $state.raw<EchoedClosing | null>(null);
  wrong = $state('');
  taking = $state(false);
  private entry = new Entry();
  private asking: AbortController | null = null;

  constructor(private readonly job: number) {
    this.kept = new Kept<ClosingView>(() => api.closing(this.job));
  }

  load() {
    return this.kept.load();
  }

  private list = $derived.by(() => this.kept.view?.items ?? []);
  /** The one that is worked on: the one chosen, or the first that is open. */
  at: ClosingStanding | undefined = $derived.by(
    () =>
      this.list.find((a) => a.name === this.name) ??
      this.list.find((a) => a.state === 'open') ??
      this.list[0] ??
      undefined,
  );

  choose(name: string) {
    if (name !== this.at?.name) {
      this.text = this.why = this.wrong = '';
      this.echo = null;
    }
    this.name = name;
  }
  step(by: number) {
    const i = this.list.findIndex((a) => a.name === this.at?.name);
    const next = this.list[Math.max(0, Math.min(this.list.length - 1, i + by))];
    if (next) this.choose(next.name);
  }
  /** The next that is open, behind the one that was worked on. */
  private goOn(from: string) {
    const i = this.list.findIndex((a) => a.name === from);
    const rest = [...this.list.slice(i + 1), ...this.list.slice(0, i + 1)];
    this.choose(rest.find((a) => a.state === 'open')?.name ?? from);
  }

  private async keep(content: { item: string; text?: string; without?: string }): Promise<boolean> {
    const id = this.entry.idOf(content);
    if (!(await this.kept.keep(() => api.noteClosing(this.job, { id, ...content })))) return false;
    this.entry.done();
    this.text = this.why = '';
    this.echo = null;
    this.goOn(content.item);
    return true;
  }
  /** Keeps what is typed, or what is said. */
  async log(text = this.text.trim()): Promise<boolean> {
    const item = this.at?.name;
    if (item === undefined || text === '') return false;
    this.name = item;
    return this.keep({ item, text });
  }
  /** It is judged good. */
  good() {
    if (this.at?.cell) return this.log('ok');
    const read = this.at?.state === 'read' ? `${this.at.after?.text ?? ''} ` : '';
    return this.log(`${read}good`);
  }
  async without(): Promise<boolean> {
    const item = this.at?.name;
    const why = this.why.trim();
    if (item === undefined || why === '') return false;
    this.name = item;
    return this.keep({ item, without: why });
  }
  /** Lets the instruments take it. */
  async take() {
    const item = this.at?.name;
    if (item === undefined || this.taking) return;
    this.name = item;
    this.taking = true;
    const id = this.entry.idOf({ item, taken: true });
    const done = await this.kept.keep(() => api.takeClosing(this.job, { id, item }));
    this.taking = false;
    if (!done) return;
    this.entry.done();
    this.goOn(item);
  }
  /** What was kept last of the one at work is struck out. */
  strike() {
    const id = this.at?.after?.id ?? this.at?.before?.id ?? '';
    if (id !== '') void this.kept.keep(() => api.strikeClosing(this.job, id, {}));
  }

  /** How what is typed reads. */
  type() {
    this.asking?.abort();
    this.wrong = '';
    const item = this.at;
    if (item === undefined || item.cell || this.text.trim() === '') {
      this.echo = null;
      return;
    }
    const asking = (this.asking = new AbortController());
    api.echoClosing(this.job, { id: '', item: item.name, text: this.text }, asking.signal).then(
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
}

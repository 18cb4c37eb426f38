import { api, now, told } from '../api/client';
import type { WorthEntry, WorthStand, WorthView } from '../api/types.gen';
import { Entry } from '../shared/entry';
import { Kept } from '../shared/kept.svelte';

/** Whether a job is worth doing: which choice is at hand, what is being typed. */
export class Worth {
  readonly kept: Kept<WorthView>;
  at = $state(0);
  /** What is being typed, by its name; as it is kept where it is not there. */
  drafts = $state<Record<string, string>>({});
  private entry = new Entry();

  constructor(private readonly job: number) {
    this.kept = new Kept<WorthView>(() => api.worth(this.job));
  }

  load = () => this.kept.load();
  choice: WorthStand | undefined = $derived.by(() => this.kept.view?.choices[this.at]);
  step(by: number) {
    this.at = Math.max(0, Math.min((this.kept.view?.choices.length ?? 1) - 1, this.at + by));
  }

  async note(content: Omit<WorthEntry, 'id' | 'at'>): Promise<boolean> {
    const done = await this.kept.keep(() =>
      api.noteWorth(this.job, { id: this.entry.idOf(content), at: now(), ...content }),
    );
    if (done) this.entry.done();
    return done;
  }
  strike = (id: string) => this.kept.keep(() => api.strikeWorth(this.job, id, {}));

  /** What stands in a field: as it is being typed, or as it is known. */
  field(name: string): string {
    const view = this.kept.view;
    const offer = (what: string) => view?.offers.find((o) => o.what === what);
    return (
      this.drafts[name] ??
      {
        value: view?.valueText,
        limit: view?.limitText,
        board: offer('board')?.price,
        another: offer('another')?.price,
        low: view?.offer.low,
        high: view?.offer.high,
        until: view?.offer.until,
        text: view?.offer.text,
      }[name] ??
      ''
    );
  }
  private forget(...names: string[]) {
    this.drafts = Object.fromEntries(Object.entries(this.drafts).filter(([k]) => !names.includes(k)));
  }

  /** Keeps an amount that was typed. */
  async keep(name: 'value' | 'limit' | 'board' | 'another') {
    if (this.drafts[name] === undefined) return;
    const text = this.drafts[name].trim();
    if (name === 'value' || name === 'limit') {
      try {
        await api.note(this.job, { field: name, text });
        this.forget(name);
        await this.load();
      } catch (error) {
        this.kept.trouble = told(error);
      }
      return;
    }
    const kept = this.kept.view?.offers.find((o) => o.what === name);
    if (await this.note({ offer: { ...kept, what: name, price: text } })) this.forget(name);
  }

  /** Keeps what an hour costs, for the whole workshop. */
  async keepRate() {
    const rate = this.drafts['rate']?.trim();
    if (!rate) return;
    try {
      const { shop } = await api.shop();
      await api.keepShop({ ...shop, rate });
      this.forget('rate');
      await this.load();
    } catch (error) {
      this.kept.trouble = told(error);
    }
  }

  /** The estimate is given: the owner's answer is waited for. */
  async give() {
    const estimate = {
      low: this.field('low'),
      high: this.field('high'),
      until: this.field('until'),
      text: this.field('text'),
    };
    if (await this.note({ estimate })) this.forget('low', 'high', 'until', 'text');
  }
  async answer(goOn: boolean) {
    const most = goOn ? this.field('most').trim() : '';
    if (await this.note({ answer: { goOn, most, note: '' } })) this.forget('most');
  }
  async decide(): Promise<boolean> {
    const choice = this.choice?.choice;
    if (!choice) return false;
    const done = await this.note({ decision: { choice, why: this.field('why').trim() } });
    if (done) this.forget('why');
    return done;
  }
}

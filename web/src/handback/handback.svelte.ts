import { api, now } from '../api/client';
import type { ReportSection, ReportView } from '../api/types.gen';
import { Entry } from '../shared/entry';
import { Kept } from '../shared/kept.svelte';

/** The report of a job to its owner: which section is at hand, what is written in it. */
export class Handback {
  readonly kept: Kept<ReportView>;
  key = $state('');
  /** What is being written, by section; as it is kept where it is not there. */
  drafts = $state<Record<string, string>>({});
  /** What is being written of whose the set is. */
  whose = $state<Record<string, string>>({});
  /** Counts what was kept: the page is drawn anew. */
  drawn = $state(0);
  private entry = new Entry();

  constructor(private readonly job: number) {
    this.kept = new Kept<ReportView>(() => api.report(this.job));
  }

  async load() {
    await this.kept.load();
    this.drawn++;
  }

  sections = $derived.by(() => this.kept.view?.report.sections ?? []);
  at: ReportSection | undefined = $derived.by(
    () => this.sections.find((s) => s.key === this.key) ?? this.sections.find((s) => s.key === 'wrong'),
  );
  step(by: number) {
    const i = this.sections.findIndex((s) => s.key === this.at?.key);
    const next = this.sections[Math.max(0, Math.min(this.sections.length - 1, i + by))];
    if (next) this.key = next.key;
  }

  private async note(content: { section: string; text?: string; leftOut?: boolean }) {
    const id = this.entry.idOf(content);
    const done = await this.kept.keep(() => api.noteReport(this.job, { id, at: now(), ...content }));
    if (done) this.entry.done();
    this.drawn++;
    return done;
  }
  /** Keeps what is written in a section; as it was made, it stays made. */
  async write(section: ReportSection) {
    const text = this.drafts[section.key];
    if (text === undefined || text === section.text) return;
    const own = text.trim() === '' || text.trim() === section.made.trim() ? '' : text;
    if (await this.note({ section: section.key, text: own, leftOut: text.trim() === '' && section.made !== '' }))
      this.drafts = Object.fromEntries(Object.entries(this.drafts).filter(([k]) => k !== section.key));
  }
  /** What the record makes of it stands again. */
  asMade(section: ReportSection) {
    this.drafts = Object.fromEntries(Object.entries(this.drafts).filter(([k]) => k !== section.key));
    return this.note({ section: section.key });
  }
  leaveOut(section: ReportSection) {
    return this.note({ section: section.key, text: section.edited ? section.text : '', leftOut: !section.leftOut });
  }
  choose(picture: string) {
    const chosen = this.kept.view?.chosen ?? [];
    const next = chosen.includes(picture) ? chosen.filter((p) => p !== picture) : [...chosen, picture];
    return this.note({ section: 'pictures', text: next.join(' ') });
  }
  async noteWhose(field: string) {
    const text = this.whose[field];
    if (text === undefined || text === this.kept.view?.whose.find((w) => w.key === field)?.text) return;
    try {
      await api.note(this.job, { field, text });
      this.whose = Object.fromEntries(Object.entries(this.whose).filter(([k]) => k !== field));
      await this.load();
    } catch (error) {
      this.kept.trouble = error instanceof Error ? error.message : String(error);
    }
  }
}

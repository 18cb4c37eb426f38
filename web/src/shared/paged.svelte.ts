import { told } from '../api/client';
import { Fresh } from './fresh';

/** A long list as it is looked through: what is searched for, the rows so far, and whether there are more. */
export class Paged<Answer, Row> {
  words = $state('');
  answer = $state.raw<Answer | null>(null);
  rows = $state.raw<Row[]>([]);
  more = $state('');
  trouble = $state('');
  private timer: ReturnType<typeof setTimeout> | undefined;
  private fresh = new Fresh();

  constructor(
    private readonly ask: (query: { q: string; after: string }) => Promise<Answer>,
    private readonly of: (answer: Answer) => { rows: Row[]; more: string },
  ) {}

  /** From the first row on; an answer to an earlier search is dropped. */
  load = () => this.get('');
  next = () => this.get(this.more);
  /** What changed meanwhile, unless somebody is further down the list. */
  again = () => (this.turned ? undefined : this.load());
  private turned = false; // to a further page

  private async get(after: string) {
    try {
      const got = await this.fresh.last(() => this.ask({ q: this.words, after }));
      if (got === undefined) return;
      const page = this.of(got);
      this.answer = got;
      this.turned = after !== '';
      this.rows = after === '' ? page.rows : [...this.rows, ...page.rows];
      this.more = page.more;
      this.trouble = '';
    } catch (error) {
      this.trouble = told(error);
    }
  }

  /** Searches as it is typed. */
  search(words: string) {
    this.words = words;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.load(), 120);
  }
}

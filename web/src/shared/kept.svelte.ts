import { untrack } from 'svelte';
import { told } from '../api/client';
import { Fresh } from './fresh';

/** What a screen shows of a job, asked for and changed; what was refused is told beside it. */
export class Kept<View> {
  view = $state.raw<View | null>(null);
  /** Why there is nothing to show. */
  missing = $state('');
  /** Why the last change, or a look in between, did not work. */
  trouble = $state('');
  private fresh = new Fresh();

  constructor(private readonly ask: () => Promise<View>) {}

  async load(): Promise<void> {
    try {
      const view = await this.fresh.ask(() => untrack(this.ask)); // what it reads is no reason to look again
      if (!view) return;
      this.view = view;
      this.trouble = '';
    } catch (error) {
      if (this.view === null) this.missing = told(error);
      else this.trouble = told(error);
    }
  }

  /** Changes something; true where it was taken. */
  async keep(act: () => Promise<View>): Promise<boolean> {
    try {
      this.view = await this.fresh.change(act);
      this.trouble = '';
      return true;
    } catch (error) {
      this.trouble = told(error);
      return false;
    }
  }
}

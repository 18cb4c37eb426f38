/**
 * Keeps an older answer from covering a newer one: what was asked for before a change, or while one was under way, is
 * dropped, since the change's own answer says how things stand.
 */
export class Fresh {
  private changes = 0;

  /** The answer, or nothing where a change came in between. */
  async ask<T>(get: () => Promise<T>): Promise<T | undefined> {
    const at = this.changes;
    const answer = await get();
    return at === this.changes ? answer : undefined;
  }

  async change<T>(act: () => Promise<T>): Promise<T> {
    this.changes++;
    try {
      return await act();
    } finally {
      this.changes++;
    }
  }

  /** The answer to the last question alone: one that was asked before another came is dropped. */
  async last<T>(get: () => Promise<T>): Promise<T | undefined> {
    const at = ++this.changes;
    const answer = await get();
    return at === this.changes ? answer : undefined;
  }
}

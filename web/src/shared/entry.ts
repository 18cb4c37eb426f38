import { newId } from '../api/client';

/**
 * The id of what is being entered. Sent again as it was, it keeps its id, so that it counts once however often it
 * arrived; changed since, it is another entry and has an id of its own.
 */
export class Entry {
  private id = newId();
  private sent = '';

  /** The id under which this content is sent. */
  idOf(content: unknown): string {
    const text = JSON.stringify(content);
    if (this.sent !== '' && this.sent !== text) this.id = newId();
    this.sent = text;
    return this.id;
  }

  /** It has arrived: what comes next is another entry. */
  done() {
    this.id = newId();
    this.sent = '';
  }
}

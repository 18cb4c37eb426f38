import { api, page } from '../api/client';

const often = 300; // ms

/**
 * Tells of each change of a job that another page made, on this bench or another, while this page is looked at; what was missed
 * meanwhile is told of once it is looked at again. While a dialog is open nothing moves below it: what is filled in there was begun
 * from what was seen. Gives what ends it.
 */
export function follow(number: number, changed: () => void): () => void {
  let source: EventSource | null = null;
  let missed = false; // while nobody looked, or no connection was there
  let waiting: ReturnType<typeof setInterval> | undefined; // until the dialog is closed

  function tell() {
    if (waiting !== undefined) return;
    const now = () => {
      if (document.querySelector('dialog[open]') !== null) return false;
      clearInterval(waiting);
      waiting = undefined;
      changed();
      return true;
    };
    if (!now()) waiting = setInterval(now, often);
  }
  function look() {
    if (document.hidden) {
      source?.close(); // a browser keeps only so many connections open
      source = null;
      missed = true;
    } else if (source === null) {
      source = new EventSource(api.changes(number, { page }));
      source.onopen = () => {
        if (missed) tell();
        missed = false;
      };
      source.onerror = () => (missed = true); // it connects again by itself
      source.onmessage = tell;
    }
  }
  look();
  document.addEventListener('visibilitychange', look);
  return () => {
    document.removeEventListener('visibilitychange', look);
    clearInterval(waiting);
    source?.close();
  };
}

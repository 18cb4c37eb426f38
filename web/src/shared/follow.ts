import { api, page } from '../api/client';

/**
 * Tells of each change of a job that another page made, on this bench or another, while this page is looked at; what was missed
 * meanwhile is told of once it is looked at again. Gives what ends it.
 */
export function follow(number: number, changed: () => void): () => void {
  let source: EventSource | null = null;
  let missed = false;

  function look() {
    if (document.hidden) {
      source?.close(); // a browser keeps only so many connections open
      source = null;
      missed = true;
    } else if (source === null) {
      source = new EventSource(api.changes(number, { page }));
      source.onopen = () => {
        if (missed) changed();
        missed = false;
      };
      source.onerror = () => (missed = true); // it connects again by itself
      source.onmessage = changed;
    }
  }
  look();
  document.addEventListener('visibilitychange', look);
  return () => {
    document.removeEventListener('visibilitychange', look);
    source?.close();
  };
}

import { api, page } from '../api/client';

const often = 300; // ms

/** Whether something is being filled in: a dialog, or a field. It was begun from what was seen, and is meant for that. */
function filling(): boolean {
  const at = document.activeElement;
  const field = at instanceof HTMLInputElement || at instanceof HTMLTextAreaElement ? at.value : '';
  const entry = document.querySelector<HTMLInputElement>('#entry')?.value ?? '';
  return field !== '' || entry !== '' || document.querySelector('dialog[open]') !== null;
}

/**
 * Tells of each change of a job that another page made, on this bench or another, while this page is looked at; what was missed
 * meanwhile is told of once it is looked at again. While something is being filled in nothing moves below it. Gives what ends it.
 */
export function follow(number: number, changed: () => void): () => void {
  let source: EventSource | null = null;
  let missed = false; // while nobody looked, or no connection was there
  let waiting: ReturnType<typeof setInterval> | undefined; // until it is filled in

  function tell() {
    if (waiting !== undefined) return;
    const now = () => {
      if (filling()) return false;
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

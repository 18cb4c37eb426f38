// The only module that talks to the server.
import { routes } from './routes.gen';
import type { Conditions, ProblemDetails } from './types.gen';

/** A request that was refused. Its message tells a person what to do. */
export class Refusal extends Error {
  constructor(readonly details: ProblemDetails) {
    super(details.detail);
  }
}

const silent: ProblemDetails = {
  type: 'about:blank',
  title: 'No answer',
  status: 0,
  detail:
    'Step Trace does not answer. Is it still running? Nothing typed here is lost: start it again, then try once more.',
};

const unfinished = (status: number): ProblemDetails => ({
  type: 'about:blank',
  title: 'Not finished',
  status,
  detail: `Step Trace is running, but could not finish this (it answered with ${String(status)}). Nothing typed here is lost: try once more; what happened is in its log.`,
});

/** Which page asks: of what it changed itself it is not told. */
export const page = newId();

async function call<T>(method: string, path: string, body: BodyInit | undefined, kind: string, signal?: AbortSignal) {
  let response: Response;
  try {
    response = await fetch(`./api/${path}`, {
      method,
      body: body ?? null,
      signal: signal ?? null,
      headers: { 'Step-Trace-Page': page, ...(body === undefined ? {} : { 'Content-Type': kind }) },
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    throw new Refusal(silent);
  }
  const answer: unknown = await response.json().catch(() => undefined);
  signal?.throwIfAborted(); // cut short by ourselves, while the answer came in
  if (response.ok && answer !== undefined) return answer as T;
  window.dispatchEvent(new Event(refused));
  throw new Refusal((answer as ProblemDetails | undefined) ?? unfinished(response.status));
}

/** Happens to the window where the server refuses something: in practice, that counts. */
export const refused = 'steptrace-refused';

/** A captured waveform: the points of its channels, what is said beside the file, under which conditions. */
export interface Captured {
  points: string[];
  said: Record<string, string>;
  conditions: Conditions;
}
/** What the address of a capture carries. */
export const ofCaptured = (c: Captured) => ({
  ...c.said,
  conditions: JSON.stringify(c.conditions),
  point: c.points,
});

const all = routes(call);

/** Every route of the API by its name; where a file comes out, its address. */
export const api = {
  ...all,
  /** A piece of sound to be played over and over, from its address. */
  async piece(address: string): Promise<ArrayBuffer> {
    let response: Response;
    try {
      response = await fetch(address);
    } catch {
      throw new Refusal(silent);
    }
    if (response.ok) return response.arrayBuffer();
    throw new Refusal(((await response.json().catch(() => undefined)) as ProblemDetails | undefined) ?? silent);
  },
};

/** What to tell a person about an error. */
export function told(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

/** The time on this machine; what is kept has the server's. */
export const now = () => new Date().toISOString();

/** An id for a reading, a step, a picture. crypto.randomUUID needs a secure page, which a phone on the workshop's network has not. */
export function newId(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('');
}

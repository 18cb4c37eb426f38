// The only module that talks to the server.
import type {
  Check,
  Echo,
  JobView,
  NewJob,
  Opened,
  Outcome,
  ProblemDetails,
  BenchSetting,
  SavedSheet,
  SheetList,
  SheetView,
  Shelf,
  TablesToCheck,
  Typed,
} from './types.gen';

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

async function call<T>(method: string, path: string, body?: BodyInit, kind = 'application/json', signal?: AbortSignal) {
  let response: Response;
  try {
    response = await fetch(`./api/${path}`, {
      method,
      body: body ?? null,
      signal: signal ?? null,
      headers: body === undefined ? {} : { 'Content-Type': kind },
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    throw new Refusal(silent);
  }
  const answer: unknown = await response.json().catch(() => undefined);
  signal?.throwIfAborted(); // cut short by ourselves, while the answer came in
  if (response.ok && answer !== undefined) return answer as T;
  throw new Refusal((answer as ProblemDetails | undefined) ?? { ...silent, status: response.status });
}

const send = <T>(method: string, path: string, body: unknown, signal?: AbortSignal) =>
  call<T>(method, path, JSON.stringify(body), 'application/json', signal);

export const api = {
  shelf: () => call<Shelf>('GET', 'jobs'),
  openJob: (job: NewJob) => send<Opened>('POST', 'jobs', job),
  importJob: (file: Blob) => call<Opened>('POST', 'jobs/import', file, 'application/octet-stream'),
  job: (number: number) => call<JobView>('GET', `jobs/${number}`),
  setBench: (number: number, setting: BenchSetting) => send<JobView>('PUT', `jobs/${number}/bench`, setting),
  echo: (number: number, typed: Typed, signal: AbortSignal) => send<Echo>('POST', `jobs/${number}/echo`, typed, signal),
  log: (number: number, typed: Typed) => send<JobView>('POST', `jobs/${number}/readings`, typed),
  strike: (number: number, id: string, reason: string) =>
    send<JobView>('POST', `jobs/${number}/readings/${encodeURIComponent(id)}/strike`, { reason }),
  finish: (number: number, outcome: Outcome) => send<JobView>('POST', `jobs/${number}/finish`, outcome),
  reopen: (number: number) => send<JobView>('POST', `jobs/${number}/reopen`, {}),
  sheets: () => call<SheetList>('GET', 'sheets'),
  newSheet: () => call<SheetView>('GET', 'sheets/new'),
  sheet: (id: number) => call<SheetView>('GET', `sheets/${id}`),
  addSheet: (sheet: SavedSheet) => send<SheetView>('POST', 'sheets', sheet),
  changeSheet: (id: number, sheet: SavedSheet) => send<SheetView>('PUT', `sheets/${id}`, sheet),
  checkSheet: (tables: TablesToCheck, signal: AbortSignal) => send<Check>('POST', 'sheets/check', tables, signal),
  readTable: (table: BodyInit) => call<SheetView>('POST', 'sheets/read', table, 'application/octet-stream'),
};

/** What to tell a person about an error. */
export function told(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

/** An id for a reading. crypto.randomUUID needs a secure page, which a phone on the workshop's network has not. */
export function newId(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('');
}

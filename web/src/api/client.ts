// The only module that talks to the server.
import type {
  BenchInstrument,
  Calibration,
  CapturesView,
  Check,
  CircuitAnswer,
  Conditions,
  Connected,
  Count,
  Echo,
  Hangs,
  Happening,
  InstrumentsView,
  InsideView,
  InsideWave,
  IntakeView,
  JobView,
  Kept,
  KeptCircuit,
  Line,
  LineRead,
  Mark,
  NewJob,
  Noted,
  Opened,
  Outcome,
  PartQuestion,
  PartVerdict,
  PracticeView,
  Practising,
  ProblemDetails,
  RepairEntry,
  RepairForm,
  BenchSetting,
  SafetyView,
  Said,
  SavedSheet,
  Seen,
  SheetList,
  SheetView,
  Shelf,
  SoundLevels,
  StageCircuit,
  StageEntry,
  Stretch,
  Strip,
  StripView,
  TablesToCheck,
  ToMeasure,
  ToTake,
  Typed,
  Waiver,
  WaveView,
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

/** What the sums of a discharge are made with, as typed. */
export interface Sums {
  below: string;
  seconds: string;
  through: string;
}
const chosen = (sums: Sums) => `?${new URLSearchParams({ ...sums }).toString()}`;
/** Rows of the matrix with stages swapped for good ones. */
const rows = (swaps: string[][]) =>
  swaps.length === 0 ? '' : `?${new URLSearchParams(swaps.map((s) => ['swap', s.join(';')])).toString()}`;

/** Where a picture is; small for lists. */
export const pictureAt = (number: number, id: string, small = true) =>
  `./api/jobs/${number}/pictures/${encodeURIComponent(id)}${small ? '/preview' : ''}`;

/** Where the file of a capture is. */
export const captureAt = (number: number, id: string) => `./api/jobs/${number}/captures/${encodeURIComponent(id)}/file`;

/** A query of what is said; what is empty is left out. */
const asked = (said: Record<string, string>) =>
  new URLSearchParams(Object.entries(said).filter(([, text]) => text !== '')).toString();
const ofCapture = (number: number, id: string, what: string, said: Record<string, string>) =>
  `jobs/${number}/captures/${encodeURIComponent(id)}${what}?${asked(said)}`;

/** A captured waveform: the points of its channels, what is said beside the file, under which conditions. */
export interface Captured {
  points: string[];
  said: Record<string, string>;
  conditions: Conditions;
}
const ofCaptured = (number: number, what: string, c: Captured) =>
  `jobs/${number}/captures${what}?${asked({ ...c.said, conditions: JSON.stringify(c.conditions) })}${c.points
    .map((p) => `&point=${encodeURIComponent(p)}`)
    .join('')}`;

export const api = {
  soundLevels: () => call<SoundLevels>('GET', 'sound/levels'),
  calibrateOut: (measured: Calibration) => send<SoundLevels>('POST', 'sound/levels/out', measured),
  /** From a recording of a known level. */
  calibrateIn: (device: string, known: string, file: Blob) =>
    call<SoundLevels>('POST', `sound/levels/in?${asked({ device, known })}`, file, 'application/octet-stream'),
  /** A piece of sound to be played over and over. */
  async sound(said: Record<string, string>): Promise<ArrayBuffer> {
    let response: Response;
    try {
      response = await fetch(`./api/sound?${asked(said)}`);
    } catch {
      throw new Refusal(silent);
    }
    if (response.ok) return response.arrayBuffer();
    throw new Refusal(((await response.json().catch(() => undefined)) as ProblemDetails | undefined) ?? silent);
  },
  instruments: () => call<InstrumentsView>('GET', 'instruments'),
  putInstrument: (instrument: BenchInstrument) =>
    send<InstrumentsView>('PUT', `instruments/${encodeURIComponent(instrument.id)}`, instrument),
  removeInstrument: (id: string) => send<InstrumentsView>('POST', `instruments/${encodeURIComponent(id)}/remove`, {}),
  identify: (id: string) => send<Said>('POST', `instruments/${encodeURIComponent(id)}/identify`, {}),
  /** One value of a meter or a tester; nothing is logged. */
  measure: (id: string, what: ToMeasure['what']) =>
    send<Said>('POST', `instruments/${encodeURIComponent(id)}/measure`, { what }),
  /** Has an instrument take what is aimed at, and logs it. */
  take: (number: number, typed: ToTake) => send<JobView>('POST', `jobs/${number}/take`, typed),
  feed: (number: number, conditions: Conditions) => send<Said>('POST', `jobs/${number}/feed`, conditions),
  practice: (number: number) => call<PracticeView>('GET', `jobs/${number}/practice`),
  practise: (number: number, how: Practising) => send<PracticeView>('POST', `jobs/${number}/practice`, how),
  hands: (number: number, connected: Connected) => send<PracticeView>('POST', `jobs/${number}/hands`, connected),
  captures: (number: number) => call<CapturesView>('GET', `jobs/${number}/captures`),
  /** What is in a captured waveform, compared with what is due at the points of its channels. */
  readCapture: (number: number, file: Blob, capture: Captured) =>
    call<WaveView>('POST', ofCaptured(number, '/read', capture), file, 'application/octet-stream'),
  keepCapture: (number: number, file: Blob, capture: Captured) =>
    call<Kept>('POST', ofCaptured(number, '', capture), file, 'application/octet-stream'),
  capture: (number: number, id: string, said: Record<string, string>) =>
    call<Seen>('GET', ofCapture(number, id, '', said)),
  cut: (number: number, id: string, said: Record<string, string>) =>
    call<Strip>('GET', ofCapture(number, id, '/strip', said)),
  stretch: (number: number, id: string, said: Record<string, string>) =>
    call<Stretch>('GET', ofCapture(number, id, '/stretch', said)),
  goodCapture: (number: number, id: string, good: boolean) =>
    send<CapturesView>('POST', `jobs/${number}/captures/${encodeURIComponent(id)}/good`, { good }),
  strikeCapture: (number: number, id: string) =>
    send<CapturesView>('POST', `jobs/${number}/captures/${encodeURIComponent(id)}/strike`, {}),
  shelf: () => call<Shelf>('GET', 'jobs'),
  openJob: (job: NewJob) => send<Opened>('POST', 'jobs', job),
  importJob: (file: Blob) => call<Opened>('POST', 'jobs/import', file, 'application/octet-stream'),
  job: (number: number) => call<JobView>('GET', `jobs/${number}`),
  setBench: (number: number, setting: BenchSetting) => send<JobView>('PUT', `jobs/${number}/bench`, setting),
  echo: (number: number, typed: Typed, signal: AbortSignal) => send<Echo>('POST', `jobs/${number}/echo`, typed, signal),
  log: (number: number, typed: Typed) => send<JobView>('POST', `jobs/${number}/readings`, typed),
  strike: (number: number, id: string, reason: string) =>
    send<JobView>('POST', `jobs/${number}/readings/${encodeURIComponent(id)}/strike`, { reason }),
  hang: (number: number, hangs: Hangs) => send<JobView>('POST', `jobs/${number}/hangs`, hangs),
  waive: (number: number, waiver: Waiver) => send<JobView>('POST', `jobs/${number}/waive`, waiver),
  finish: (number: number, outcome: Outcome) => send<JobView>('POST', `jobs/${number}/finish`, outcome),
  repairForm: (number: number) => call<RepairForm>('GET', `jobs/${number}/repairs`),
  /** Notes what was done to the set, what was put in for a while, or that it came out. */
  noteRepair: (number: number, entry: RepairEntry) => send<JobView>('POST', `jobs/${number}/repairs`, entry),
  strikeRepair: (number: number, id: string) =>
    send<JobView>('POST', `jobs/${number}/repairs/${encodeURIComponent(id)}/strike`, {}),
  reopen: (number: number) => send<JobView>('POST', `jobs/${number}/reopen`, {}),
  intake: (number: number, swaps: string[][]) => call<IntakeView>('GET', `jobs/${number}/intake${rows(swaps)}`),
  note: (number: number, noted: Noted) => send<IntakeView>('POST', `jobs/${number}/intake`, noted),
  mark: (number: number, mark: Mark, swaps: string[][]) =>
    send<IntakeView>('POST', `jobs/${number}/marks${rows(swaps)}`, mark),
  safety: (number: number, sums: Sums) => call<SafetyView>('GET', `jobs/${number}/safety${chosen(sums)}`),
  happen: (number: number, happening: Happening, sums: Sums) =>
    send<SafetyView>('POST', `jobs/${number}/safety${chosen(sums)}`, happening),
  strip: (number: number) => call<StripView>('GET', `jobs/${number}/strip`),
  takeApart: (number: number, line: Line) => send<StripView>('POST', `jobs/${number}/strip`, line),
  readLine: (line: Line, signal: AbortSignal) => send<LineRead>('POST', 'strip/read', line, signal),
  strikeStep: (number: number, id: string) =>
    send<StripView>('POST', `jobs/${number}/strip/${encodeURIComponent(id)}/strike`, {}),
  putBack: (number: number, id: string, count: Count) =>
    send<StripView>('POST', `jobs/${number}/strip/${encodeURIComponent(id)}/back`, count),
  addPicture: (number: number, id: string, step: string, file: Blob) =>
    call<Kept>(
      'POST',
      `jobs/${number}/pictures?id=${id}&step=${encodeURIComponent(step)}`,
      file,
      'application/octet-stream',
    ),
  strikePicture: (number: number, id: string) =>
    send<Kept>('POST', `jobs/${number}/pictures/${encodeURIComponent(id)}/strike`, {}),
  inside: (number: number, stage: string) => call<InsideView>('GET', `jobs/${number}/inside${ofStage(stage)}`),
  insideWave: (number: number, stage: string) => call<InsideWave>('GET', `jobs/${number}/inside/wave${ofStage(stage)}`),
  noteInside: (number: number, entry: StageEntry) => send<InsideView>('POST', `jobs/${number}/inside`, entry),
  strikeInside: (number: number, id: string, stage: string) =>
    send<InsideView>('POST', `jobs/${number}/inside/${encodeURIComponent(id)}/strike${ofStage(stage)}`, {}),
  keepCircuit: (sheet: number, circuit: StageCircuit) => send<KeptCircuit>('PUT', `sheets/${sheet}/circuit`, circuit),
  solveCircuit: (rows: string[][], signal: AbortSignal) => send<CircuitAnswer>('POST', 'circuit', { rows }, signal),
  checkPart: (question: PartQuestion, signal: AbortSignal) => send<PartVerdict>('POST', 'part', question, signal),
  sheets: () => call<SheetList>('GET', 'sheets'),
  newSheet: () => call<SheetView>('GET', 'sheets/new'),
  sheet: (id: number) => call<SheetView>('GET', `sheets/${id}`),
  addSheet: (sheet: SavedSheet) => send<SheetView>('POST', 'sheets', sheet),
  changeSheet: (id: number, sheet: SavedSheet) => send<SheetView>('PUT', `sheets/${id}`, sheet),
  checkSheet: (tables: TablesToCheck, signal: AbortSignal) => send<Check>('POST', 'sheets/check', tables, signal),
  readTable: (table: BodyInit) => call<SheetView>('POST', 'sheets/read', table, 'application/octet-stream'),
};

const ofStage = (stage: string) => (stage === '' ? '' : `?stage=${encodeURIComponent(stage)}`);

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

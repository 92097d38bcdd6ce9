import type { Problem } from '../../contract/errors.ts';
import { noteRead, noteWritten } from './commits.ts';
import { forgetLastKnown, noteAnswer } from './last-known.ts';

/** The server answered, and refused: what is wrong, at which field, with the remedy. */
export class ProblemError extends Error {
  readonly problem: Problem;
  constructor(problem: Problem) {
    super(problem.detail);
    this.name = 'ProblemError';
    this.problem = problem;
  }
  /** The message at a field, or the whole when it concerns no field. */
  at(path: string): string | undefined {
    return this.problem.errors?.find((e) => e.path === path || e.path.startsWith(`${path}.`))?.message;
  }
}

/** The server did not answer, or cannot do anything just now: what was to be done is kept. */
export class OfflineError extends Error {
  /** The server is there and said why it cannot do this just now. */
  readonly answered: boolean;
  constructor(why?: string) {
    super(why ?? 'The server does not answer.');
    this.name = 'OfflineError';
    this.answered = why !== undefined;
  }
}

/** The server knows this device no more (or not yet): nothing is lost, acts wait until it is let in. */
export class NotLetInError extends OfflineError {
  constructor(why: string) {
    super(why);
    this.name = 'NotLetInError';
  }
}

/** One JSON request. @throws ProblemError when refused, OfflineError when nobody answers */
export async function request<T>(method: 'GET' | 'PUT' | 'POST', url: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(url, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
  } catch {
    throw new OfflineError();
  }
  if (response.ok) {
    if (method === 'GET') noteAnswer(response);
    if (method === 'PUT') noteWritten(response);
    else noteRead(response);
    return (await response.json()) as T;
  }
  throw await refusal(response, method);
}

/** A file as it is. @throws ProblemError when refused, OfflineError when nobody answers */
export async function sendFile<T>(url: string, file: Blob, type = 'application/octet-stream'): Promise<T> {
  let response: Response;
  try {
    response = await fetch(url, { method: 'POST', body: file, headers: { 'content-type': type } });
  } catch {
    throw new OfflineError();
  }
  if (!response.ok) throw await refusal(response, 'POST');
  return (await response.json()) as T;
}

/** Server errors after which an act is kept and sent again. */
const COMES_BACK: ReadonlySet<number> = new Set([502, 503, 504]);

/** What a refused request means to whoever asked. */
async function refusal(response: Response, method: string): Promise<Error> {
  const { status } = response;
  if (status === 401) {
    void forgetLastKnown();
    return new NotLetInError((await detailOf(response)) ?? 'This device has not been let in yet.');
  }
  // Too fast for the server: an act waits its turn.
  if (status === 429 && method === 'PUT') return new OfflineError(await detailOf(response));
  // The server is there but cannot write just now (disk full, being restored): the act waits and is sent again.
  if (status === 503 || status === 507) return new OfflineError(await detailOf(response));
  if (response.headers.get('content-type')?.includes('problem+json'))
    return new ProblemError((await response.json()) as Problem);
  if (COMES_BACK.has(status)) return new OfflineError();
  return new ProblemError({
    type: 'about:blank',
    title: 'Something went wrong',
    status,
    code: 'internal',
    detail: 'The server could not carry this out. Try it again.',
  });
}

async function detailOf(response: Response): Promise<string | undefined> {
  try {
    return ((await response.json()) as Problem).detail;
  } catch {
    return undefined;
  }
}

export const get = <T>(url: string) => request<T>('GET', url);
/** A question too long for an address; it changes nothing. */
export const ask = <T>(url: string, body: unknown) => request<T>('POST', url, body);

/** A UUID from getRandomValues, since randomUUID is missing over plain http. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = (bytes[6]! & 0x0f) | 0x40;
  bytes[8] = (bytes[8]! & 0x3f) | 0x80;
  const hex = [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
}

/** Talks to the server; an error carries the sentence that the server gave. */
import type { Problem } from '../../contract/contract.js';
import { MESSAGES } from './words.js';

/** What the server said against a request. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** What requests that change something carry, once somebody has signed in. */
let csrf: string | undefined;
let onSignedOut: () => void = () => {};

/** Sends the session's token along from now on; `signedOut` is called where the server says that nobody is signed in. */
export function setCsrf(token: string | undefined, signedOut: () => void): void {
  csrf = token;
  onSignedOut = signedOut;
}

/** Throws the sentence that the server gave where it refused. */
async function refuse(response: Response): Promise<never> {
  if (response.status === 401) onSignedOut();
  // Looked at by hand: the first page needs no schema otherwise. What a proxy answers is no problem of ours and has no detail.
  const problem = (await response.json().catch(() => null)) as Partial<Problem> | null;
  throw new ApiError(response.status, typeof problem?.detail === 'string' ? problem.detail : MESSAGES.theServerAnsweredTry(response.status));
}

/** Fetches and says in plain words where the server cannot be reached. */
async function respond(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, csrf === undefined ? init : { ...init, headers: { ...init?.headers, 'x-csrf-token': csrf } });
  } catch (e) {
    if ((e as Error).name === 'AbortError') throw new ApiError(0, MESSAGES.stopped);
    throw new ApiError(0, MESSAGES.coldEaselDoesNot);
  }
  return response.ok ? response : refuse(response);
}

const ask = async <T>(path: string, init?: RequestInit): Promise<T> => {
  const response = await respond(path, init);
  return (response.status === 204 ? undefined : await response.json()) as T;
};

/** A reply that is no JSON. */
export async function requestBlob(path: string, signal: AbortSignal): Promise<{ blob: Blob; headers: Headers }> {
  const response = await respond(path, { signal });
  return { blob: await response.blob(), headers: response.headers };
}

/** @param signal stops waiting for it. */
export const get = <T>(path: string, signal?: AbortSignal): Promise<T> => ask<T>(path, signal && { signal });

/** What is made of what is sent, where that is no JSON. */
export async function sendForBlob(path: string, body: unknown): Promise<Blob> {
  const response = await respond(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  return response.blob();
}

/** Browsers carry no more than so much, in bytes, for a page that is gone. */
const MAX_KEEPALIVE_BYTES = 60_000;

/** `last` lets the request outlive the page, as far as browsers do that. */
export function send<T>(method: 'POST' | 'PUT' | 'DELETE', path: string, body: unknown = {}, last = false): Promise<T> {
  const text = JSON.stringify(body);
  return ask<T>(path, {
    method,
    headers: { 'content-type': 'application/json' },
    body: text,
    ...(last && text.length < MAX_KEEPALIVE_BYTES && { keepalive: true }),
  });
}

/** Sends files as one import; where the signal stops it, the server gives it up too. */
export function upload<T>(path: string, files: File[], signal?: AbortSignal): Promise<T> {
  const form = new FormData();
  for (const file of files) form.append('files', file, file.name);
  return ask<T>(path, { method: 'POST', body: form, ...(signal && { signal }) });
}

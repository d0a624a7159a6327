/** A review page that a server answers. */
import type { NoteReply } from '../../contract/notes.js';
import type { ReviewPageContent } from '../../contract/reviewPages.js';
import { Locked, type PageSource } from './source.js';
import { MESSAGES } from './words.js';

async function ask<T>(path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    const sent = body === undefined ? {} : { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
    response = await fetch(path, sent);
  } catch {
    throw new Error(MESSAGES.noServer);
  }
  if (response.ok) return (response.status === 204 ? undefined : await response.json()) as T;
  const problem = (await response.json().catch(() => null)) as { detail?: unknown } | null;
  const sentence = typeof problem?.detail === 'string' ? problem.detail : MESSAGES.refused(response.status);
  throw response.status === 401 ? new Locked(sentence) : new Error(sentence);
}

/** @param secret last part of the page's address. */
export function servedSource(secret: string): PageSource {
  const base = `/api/shared/${encodeURIComponent(secret)}`;
  return {
    load: () => ask<ReviewPageContent>(base),
    again: () => ask<ReviewPageContent>(`${base}?again=`),
    unlock: (passphrase) => ask(`${base}/session`, { passphrase }),
    addNote: ({ frame }, note) => ask<NoteReply>(`${base}/frames/${frame.id}/notes`, note),
    answer: (to, answer) => ask<NoteReply>(`${base}/notes/${to.id}/answers`, answer),
  };
}

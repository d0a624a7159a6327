/** Set files as text: how one that is sent or stored is read, and what is kept of it. Without the database, so that a thread can do it too. */
import { createHash } from 'node:crypto';
import type * as z from 'zod';
import { newSet, saveSet } from '../contract/contract.js';
import { describeIssues } from '../core/base/issues.js';
import { parseSet, type SetFile } from '../core/plan/set.js';
import { countFrames } from '../core/planning/planFrames.js';

/** Content hash of a set file, for addresses of what is made from it. */
export const contentOf = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 16);

/** What lists tell of a set; made from the text of that content hash. */
export interface SetDigest {
  of: string;
  name: string;
  frames: number;
  /** The first view; null where there is none, absent of what was kept before lists told it. */
  view?: string | null;
}

/** The columns of a row that a set file fills. */
export interface SetColumns {
  /** SetFile as JSON. */
  file: string;
  /** SetDigest as JSON. */
  digest: string;
}

/** Reads a set file out of its JSON. Throws an Error with a line for each wrong place. */
export function readSetText(text: string): SetFile {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Error('the file: it is not valid JSON.');
  }
  return parseSet(json);
}

/** What lists of sets show. */
export function setDigest(text: string, file: SetFile): SetDigest {
  return { of: contentOf(text), name: file.name, frames: countFrames(file), view: file.views[0]?.id ?? null };
}

/** The set as its row holds it. */
export function setColumns(file: SetFile): SetColumns {
  const text = JSON.stringify(file);
  return { file: text, digest: JSON.stringify(setDigest(text, file)) };
}

/** Where a text with a set in it comes from: the body that makes one, the body that saves one, or a row. */
export type SetTextKind = 'new' | 'save' | 'stored';

/** A set as it was sent. */
export interface ReadSet {
  columns: SetColumns;
  /** Version over which it is saved; null where the text names none. */
  version: number | null;
}

function readBody<S extends z.ZodType>(schema: S, text: string): z.infer<S> {
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new Error('The body is not valid JSON.');
  }
  const result = schema.safeParse(body);
  if (!result.success) throw new Error(describeIssues(result.error).join('\n'));
  return result.data;
}

/** Reads a set out of a body or a row. Throws an Error with a line for each wrong place. */
export function readSet(kind: SetTextKind, text: string): ReadSet {
  if (kind === 'stored') return { columns: setColumns(readSetText(text)), version: null };
  if (kind === 'new') return { columns: setColumns(readBody(newSet, text).file), version: null };
  const { file, version } = readBody(saveSet, text);
  return { columns: setColumns(file), version };
}

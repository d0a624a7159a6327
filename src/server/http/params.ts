/** What requests ask, validated in one place. */
import type { Response } from 'express';
import type * as z from 'zod';
import { describeIssues } from '../../core/base/issues.js';
import { ServerError } from '../errors.js';

/** Validates with the contract. Throws ServerError that names each wrong place. */
export function parse<S extends z.ZodType>(schema: S, value: unknown): z.infer<S> {
  const result = schema.safeParse(value);
  if (!result.success) throw new ServerError('invalid-input', describeIssues(result.error).join('\n'));
  return result.data;
}

/** A body that is taken as it is, as text; what is missing is an empty one. */
export const textOf = (body: unknown): string => (Buffer.isBuffer(body) ? body.toString('utf8') : '{}');

/** A number of a thing in an address. Throws ServerError where it is none. */
export function idOf(text: unknown, what: string): number {
  if (typeof text !== 'string' || !/^[1-9]\d{0,14}$/.test(text))
    throw new ServerError(
      'invalid-input',
      text === undefined ? `The number of a ${what} is missing.` : `"${String(text).slice(0, 40)}" is not the number of a ${what}.`,
    );
  return Number(text);
}

/** Aborted when whoever asked goes away before the answer: it is not wanted any more. */
export function abortOnClose(response: Response): AbortSignal {
  const gone = new AbortController();
  response.on('close', () => {
    if (!response.writableEnded) gone.abort();
  });
  return gone.signal;
}

/** Errors as application/problem+json (RFC 9457), with a code and a remedy from the catalogue. */
import { randomBytes } from 'node:crypto';
import type { ErrorRequestHandler, Response } from 'express';
import { MulterError } from 'multer';
import { ZodError } from 'zod';
import { describeIssues } from '../../core/base/issues.js';
import { ModelError, MAX_UPLOAD_BYTES } from '../../formats/format.js';
import { type ErrorCode, ERROR_CATALOGUE, ServerError, storageFault } from '../errors.js';

/** Answers with a problem. `retryAfter` is in seconds. */
export function sendProblem(response: Response, code: ErrorCode, detail: string, retryAfter?: number): void {
  const { status, title, remedy } = ERROR_CATALOGUE[code];
  if (retryAfter !== undefined) response.set('retry-after', String(Math.ceil(retryAfter)));
  response.status(status).type('application/problem+json').send({ type: 'about:blank', title, status, code, detail, remedy });
}

/** What the parsers of bodies and forms complain of. */
const BODY_FAULTS: Record<string, [ErrorCode, string]> = {
  'entity.verify.failed': ['invalid-input', 'A text in the body holds the character NUL; remove it.'],
  'entity.parse.failed': ['invalid-input', 'The body is not valid JSON.'],
  'encoding.unsupported': ['unsupported-type', 'The encoding of the body is not supported; send it plain, or with gzip.'],
  'charset.unsupported': ['unsupported-type', 'The character set of the body is not supported; send UTF-8.'],
  'request.aborted': ['invalid-input', 'The body ended early.'],
  'request.size.invalid': ['invalid-input', 'The body is not as long as its header says.'],
};

const FORM_FAULTS: Partial<Record<string, [ErrorCode, string]>> = {
  LIMIT_FILE_SIZE: ['too-large', `A file is larger than ${MAX_UPLOAD_BYTES / 2 ** 20} MB, which is the most.`],
  LIMIT_FILE_COUNT: ['too-large', 'The form has too many files.'],
  LIMIT_UNEXPECTED_FILE: ['invalid-input', 'The form has a file in a field of another name; send files in the field "files".'],
};

/** The problem that an error is, or null where it is a fault of the program. */
export function problemOf(error: Error & { status?: number; type?: string; code?: string; limit?: number }): ServerError | null {
  if (error instanceof ServerError) return error;
  if (error instanceof ModelError) return new ServerError('unusable', error.message);
  if (error instanceof ZodError) return new ServerError('invalid-input', describeIssues(error).join('\n'));
  if (error instanceof MulterError) return new ServerError(...(FORM_FAULTS[error.code] ?? (['invalid-input', 'The form is malformed.'] as const)));
  if (error.type === 'entity.too.large') return new ServerError('too-large', `The body is larger than ${(error.limit ?? 0) / 2 ** 20} MB.`);
  const body = error.type && BODY_FAULTS[error.type];
  if (body) return new ServerError(...body);
  if (/^(Unexpected end of form|Multipart: |Malformed |Unsupported content type)/.test(error.message))
    return new ServerError('invalid-input', 'The form is malformed.');
  if (error instanceof URIError) return new ServerError('invalid-input', 'The address is malformed.');
  if (error.name === 'SequelizeUniqueConstraintError') return new ServerError('conflict', 'Another one has this name already.');
  return storageFault(error) ?? (error.status === 404 || error.code === 'ENOENT' ? new ServerError('not-found', 'The file does not exist.') : null);
}

/** The last handler. `log` hears of faults of the program, with the reference that the reply names. */
export function problemHandler(log: (error: Error, reference: string) => void): ErrorRequestHandler {
  return (error: Error & { status?: number; code?: string }, request, response, next) => {
    // Who went away is told nothing, and it is no fault of ours.
    if (request.destroyed && response.destroyed) return;
    if (response.headersSent) {
      next(error);
      return;
    }
    const problem = problemOf(error);
    if (problem) {
      sendProblem(response, problem.code, problem.message, problem.retryAfter);
      return;
    }
    if (error.status && error.status < 500) {
      sendProblem(response, error.status === 413 ? 'too-large' : 'invalid-input', 'The request is malformed.');
      return;
    }
    const reference = randomBytes(4).toString('hex');
    log(error, reference);
    sendProblem(response, 'internal', `Something went wrong inside Cold Easel (reference ${reference}).`);
  };
}

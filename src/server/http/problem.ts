/** Errors as application/problem+json (RFC 9457). */
import { type ErrorRequestHandler, type Response } from 'express';
import { MulterError } from 'multer';
import { ZodError, type z } from 'zod';
import { describeIssues } from '../../core/plan/set.js';
import { ModelError, MOST_UPLOAD_BYTES } from '../../formats/format.js';

export class HttpError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

export function notFound(what: string): HttpError {
  return new HttpError(404, `${what} is not there; it may have been removed. Go back to the projects.`);
}

const TITLES: Record<number, string> = {
  400: 'Wrong input',
  403: 'Refused',
  404: 'Not found',
  409: 'Conflict',
  413: 'Too large',
  422: 'Cannot be used',
  500: 'Fault',
  507: 'No room',
};

export function sendProblem(response: Response, status: number, detail: string): void {
  response
    .status(status)
    .type('application/problem+json')
    .send({ type: 'about:blank', title: TITLES[status] ?? 'Error', status, detail });
}

/** Validates with the contract. Throws HttpError 400 that names each wrong place. */
export function parse<S extends z.ZodType>(schema: S, value: unknown): z.infer<S> {
  const result = schema.safeParse(value);
  if (!result.success) throw new HttpError(400, describeIssues(result.error).join('\n'));
  return result.data;
}

/** Aborted when whoever asked goes away before the answer: it is not wanted any more. */
export function goneFrom(response: Response): AbortSignal {
  const gone = new AbortController();
  response.on('close', () => {
    if (!response.writableEnded) gone.abort();
  });
  return gone.signal;
}

export function problemHandler(log: (error: Error) => void): ErrorRequestHandler {
  return (error: Error & { status?: number; code?: string }, request, response, next) => {
    // Who went away is told nothing, and it is no fault of ours.
    if (request.destroyed && response.destroyed) return;
    if (response.headersSent) {
      next(error);
      return;
    }
    if (error instanceof HttpError) sendProblem(response, error.status, error.message);
    else if (error instanceof ModelError) sendProblem(response, 422, error.message);
    else if (error instanceof ZodError) sendProblem(response, 400, describeIssues(error).join('\n'));
    else if (error instanceof MulterError) {
      const large = error.code === 'LIMIT_FILE_SIZE';
      sendProblem(
        response,
        large ? 413 : 400,
        large ? `A file is larger than ${MOST_UPLOAD_BYTES / 2 ** 20} MB, which is the most. Reduce it before exporting.` : error.message,
      );
    } else if (error.code === 'ENOSPC') sendProblem(response, 507, 'The disk is full. Free some room and try again; nothing was changed.');
    else if (error.status && error.status < 500) sendProblem(response, error.status, error.message);
    else {
      log(error);
      sendProblem(response, 500, `Something went wrong inside Cold Easel: ${error.message}`);
    }
  };
}

/** Uploads: files of one request, kept on disk while they are read and removed whatever happens next. */
import { rm } from 'node:fs/promises';
import type { Request, RequestHandler } from 'express';
import multer from 'multer';
import { extensionOf, MAX_UPLOAD_BYTES } from '../../formats/format.js';
import { ServerError } from '../errors.js';
import type { ReceivedFile } from '../imports.js';

const MAX_FILES = 200;

/** Takes uploaded files into that folder, within their limits; answers 413 beyond them. */
export function receiveFiles(folder: string): RequestHandler {
  return multer({ dest: folder, limits: { fileSize: MAX_UPLOAD_BYTES, files: MAX_FILES, fields: 20, fieldSize: 10_000, headerPairs: 100 } }).array(
    'files',
  );
}

/** A file name as a browser gave it: without folders, and without what no name has. */
function plainName(name: string): string {
  // Browsers send names in UTF-8, which the parser takes for Latin-1.
  const text = Buffer.from(name, 'latin1').toString('utf8');
  return text.replace(/[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069]/gu, '').slice(-200) || 'unnamed';
}

/** Works with the files that were received, then removes those that are still where they were received. */
export async function withFiles<T>(request: Request, work: (files: ReceivedFile[]) => Promise<T>): Promise<T> {
  const files = (request.files ?? []) as Express.Multer.File[];
  try {
    return await work(files.map((f) => ({ name: plainName(f.originalname), path: f.path })));
  } finally {
    await Promise.all(files.map((f) => rm(f.path, { force: true })));
  }
}

/** The one file of a request, of one of these endings. Throws ServerError where there is none, or it is of another type. */
export function oneFile(files: readonly ReceivedFile[], endings: readonly string[], what: string): ReceivedFile {
  const [file] = files;
  if (!file) throw new ServerError('invalid-input', `Send the ${what} as a file in the field "files".`);
  if (!endings.includes(extensionOf(file.name)))
    throw new ServerError(
      'unsupported-type',
      `"${file.name}" is not a type of ${what} that is read; there is ${endings.map((e) => `.${e}`).join(', ')}.`,
    );
  return file;
}

/** Model uploads: one or more files of one import, kept on disk while they are read. */
import { readFile, rm } from 'node:fs/promises';
import { type Request, type RequestHandler } from 'express';
import multer from 'multer';
import { MOST_UPLOAD_BYTES, type SourceFile } from '../../formats/format.js';

const MOST_FILES = 200;

export function receiveFiles(folder: string): RequestHandler {
  return multer({ dest: folder, limits: { fileSize: MOST_UPLOAD_BYTES, files: MOST_FILES } }).array('files');
}

/** Reads what was received and removes it from the upload folder, whatever happens next. */
export async function takeFiles(request: Request): Promise<SourceFile[]> {
  const files = (request.files ?? []) as Express.Multer.File[];
  try {
    // Browsers send names in UTF-8, which the parser takes for Latin-1.
    return await Promise.all(
      files.map(async (f) => ({ name: Buffer.from(f.originalname, 'latin1').toString('utf8'), bytes: new Uint8Array(await readFile(f.path)) })),
    );
  } finally {
    await Promise.all(files.map((f) => rm(f.path, { force: true })));
  }
}

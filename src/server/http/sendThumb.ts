/** A finished frame as a small picture. */
import type { Request, Response } from 'express';
import sharp from 'sharp';
import { fileToShow } from '../../core/image/fileTypes.js';
import type { Checksum } from '../batches/renderRow.js';
import type { ServerContext } from '../context.js';
import type { Batch, BatchFrame } from '../db/models.js';
import { ServerError } from '../errors.js';
import { shownBytes } from '../results/shownFile.js';
import { isKnown } from './caching.js';
import { abortOnClose } from './params.js';

/** Pixels across of a render's thumbnail. */
export const THUMB_WIDTH = 160;
/** Widths in which small pictures are made, so that browsers and caches meet the same ones. */
const THUMB_WIDTHS = [THUMB_WIDTH, 480, 960, 1920];

/** Files of a finished frame, and what tells each from what it was before. */
export function filesOf(
  { store }: ServerContext,
  batch: Pick<Batch, 'folder'>,
  row: BatchFrame,
): { files: string[]; tagOf: (file: string) => string } {
  const files = (JSON.parse(row.files) as string[]).map((n) => store.picture(batch.folder, n));
  const checksums = JSON.parse(row.checksums ?? '[]') as Checksum[];
  // Rows of earlier versions have no checksums; what was rendered then has its identity and samples.
  const tagOf = (file: string): string => checksums[files.indexOf(file)]?.sha256 ?? `${row.identity}-${row.samples}-${files.indexOf(file)}`;
  return { files, tagOf };
}

/** A finished frame as WebP of at most so many pixels across. Throws ServerError 'not-found' where its files cannot be shown. */
export async function smallPicture(context: ServerContext, batch: Batch, row: BatchFrame, width: number, signal: AbortSignal): Promise<Buffer> {
  const shown = fileToShow(filesOf(context, batch, row).files);
  const small = (picture: string | Buffer): Promise<Buffer> =>
    sharp(picture).resize({ width, withoutEnlargement: true }).webp({ quality: 84 }).toBuffer();
  // Floats are light before the grade.
  const isSeen =
    shown !== undefined &&
    (!shown.endsWith('.tif') ||
      (
        await sharp(shown)
          .metadata()
          .catch(() => null)
      )?.depth !== 'float');
  return (isSeen ? small(shown) : shownBytes(context, batch, row, 'beauty', signal).then(small)).catch(() => {
    throw new ServerError('not-found', 'The file of this frame is missing or damaged. Render it again in the Batch step.');
  });
}

/** Throws ServerError 'not-found' where its files cannot be shown. */
export async function sendThumb(context: ServerContext, request: Request, response: Response, batch: Batch, row: BatchFrame): Promise<void> {
  const { files, tagOf } = filesOf(context, batch, row);
  const shown = fileToShow(files);
  const width = THUMB_WIDTHS.find((w) => w >= Number(request.query.width ?? THUMB_WIDTH)) ?? THUMB_WIDTHS.at(-1)!;
  if (isKnown(request, response, `thumb-${width}-${tagOf(shown ?? files[0]!)}`)) return;
  const bytes = await smallPicture(context, batch, row, width, abortOnClose(response));
  response.type('image/webp').send(bytes);
}

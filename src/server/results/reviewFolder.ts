/** A review page as a folder that opens from disk without a server, and the notes that come back from it. */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { Writable } from 'node:stream';
import { ZipArchive } from 'archiver';
import type { ImportedNotes, ReviewPageContent, WrittenNotes } from '../../contract/reviewPages.js';
import { projectRoot } from '../../engine/node/assets.js';
import type { ServerContext } from '../context.js';
import { Batch, BatchFrame, type PlanSet } from '../db/models.js';
import { NoteAnswer, NoteRow } from '../db/reviewModels.js';
import { ServerError } from '../errors.js';
import { addNote, answerNote } from './notes.js';
import { pageContent, type ShownRows } from './reviewPageContent.js';

/** The built page: its code, styles and fonts. */
export const pageFolder = (): string => path.join(projectRoot(), 'dist', 'page');

/** Text within a script element: nothing in it may end that, nor be taken for a line's end by old parsers. */
const inScript = (value: unknown): string =>
  JSON.stringify(value).replace(/[<\u2028\u2029]/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`);

/** The page with its content in it. */
export function pageHtml(content: ReviewPageContent): string {
  const shell = readFileSync(path.join(pageFolder(), 'index.html'), 'utf8');
  return shell.replaceAll('/review-page/', '').replace('<!--content-->', () => `<script>window.REVIEW_PAGE = ${inScript(content)};</script>`);
}

/** A picture of a frame, as WebP of at most so many pixels across. */
type PictureOf = (batch: Batch, row: BatchFrame, width: number) => Promise<Buffer>;

const WIDTHS = { picture: 1920, small: 480 } as const;

/** Writes the folder as a ZIP archive. Rejects where a frame cannot be read: what was written till then is no archive. */
export async function writeReviewFolder(
  set: PlanSet,
  name: string,
  renders: readonly ShownRows[],
  pictureOf: PictureOf,
  out: Writable,
): Promise<void> {
  const content = await pageContent(set, renders, {
    name,
    ends: null,
    addressOf: ({ id }, row) => {
      const file = (what: keyof typeof WIDTHS): string => `renders/batch${id}-${row.id}${what === 'small' ? '-small' : ''}.webp`;
      return { picture: file('picture'), small: file('small') };
    },
  });
  // Renders are compressed already.
  const zip = new ZipArchive({ store: true });
  zip.on('error', (e) => out.destroy(e));
  zip.pipe(out);
  zip.append(pageHtml(content), { name: 'index.html' });
  for (const file of readdirSync(pageFolder())) if (file !== 'index.html') zip.file(path.join(pageFolder(), file), { name: file });
  for (const shot of content.shots) {
    const { batch, rows } = renders.find(
      (r) => r.batch.id === shot.batch && r.shown.run === shot.run && r.rows.some((f) => f.id === shot.frames[0]!.id),
    )!;
    for (const [i, frame] of shot.frames.entries()) {
      zip.append(await pictureOf(batch, rows[i]!, WIDTHS.picture), { name: frame.picture });
      // Of a moving shot one small picture stands for all.
      if (i === 0) zip.append(await pictureOf(batch, rows[i]!, WIDTHS.small), { name: frame.small });
    }
  }
  await zip.finalize();
}

/** The frame that a written note belongs to: that of its id, where it still is the same one, else an equal one of the set. */
async function frameOf(setId: number, { frame, identity }: { frame: number; identity: string }): Promise<BatchFrame | null> {
  const candidates = await BatchFrame.findAll({ where: { identity, state: 'done' }, order: [['id', 'DESC']], limit: 100 });
  const batches = await Batch.findAll({ where: { id: candidates.map((c) => c.batchId), setId, deleted: null }, attributes: ['id'] });
  const own = candidates.filter((c) => batches.some((b) => b.id === c.batchId));
  return own.find((c) => c.id === frame) ?? own[0] ?? null;
}

/** Takes notes of a file into the set; each comes in once. */
export async function importNotes(context: ServerContext, setId: number, file: WrittenNotes): Promise<ImportedNotes> {
  const counts = { added: 0, known: 0, lost: 0 };
  const via = file.page;
  for (const { key, time, identity, frame, ...note } of file.notes) {
    if (await NoteRow.findOne({ where: { setId, key }, attributes: ['id'] })) {
      counts.known++;
      continue;
    }
    const row = await frameOf(setId, { frame, identity });
    if (!row) counts.lost++;
    else {
      await addNote(context, row.batchId, row.id, note, { via, key, time });
      counts.added++;
    }
  }
  for (const { key, time, to, ...answer } of file.answers) {
    const note = await NoteRow.findOne({
      where: { setId, deleted: null, ...(typeof to === 'number' ? { id: to } : { key: to }) },
      attributes: ['id'],
    });
    if (!note) counts.lost++;
    else if (await NoteAnswer.findOne({ where: { noteId: note.id, key }, attributes: ['id'] })) counts.known++;
    else {
      await answerNote(context, note.id, answer, { via, key, time });
      counts.added++;
    }
  }
  if (counts.added + counts.known === 0 && counts.lost > 0)
    throw new ServerError('unusable', `None of the ${counts.lost} notes belongs to a render of this set. Open the set that the folder was made of.`);
  return counts;
}

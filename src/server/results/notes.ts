/** Notes on renders: kept, answered, and carried by their parts into other renders of the same shot. */
import { Op } from 'sequelize';
import type * as z from 'zod';
import type { newAnswer, newNote, noteChange, NoteReply, PlacedNote } from '../../contract/notes.js';
import type { NoteShape } from '../../core/review/notes.js';
import { followPlace, moveShape, partAt, placeOfShape } from '../../core/review/notePlace.js';
import { isMoving } from '../../core/shots/kinds.js';
import { BATCH_SUMMARY_COLUMNS, findBatch } from '../batches/repository.js';
import { digestOfBatch } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import { Batch, BatchFrame, Revision } from '../db/models.js';
import { NoteAnswer, NoteRow } from '../db/reviewModels.js';
import { notFound, ServerError } from '../errors.js';
import type { ComparedFrame } from './comparer.js';
import { frameOfRow } from './shownFile.js';

/** Notes of one shot that are read at once. */
const MAX_NOTES = 500;

async function frameRow(batchId: number, frameId: number): Promise<{ batch: Batch; row: BatchFrame }> {
  const batch = await findBatch(batchId);
  const row = await BatchFrame.findOne({ where: { id: frameId, batchId } });
  if (!row) throw notFound(`Frame ${frameId}`);
  if (row.state !== 'done') throw new ServerError('conflict', `Frame ${row.number} is not rendered yet. Pin a note when it is done.`);
  return { batch, row };
}

const mapped = async (context: ServerContext, batch: Batch, row: BatchFrame): Promise<Pick<ComparedFrame, 'frame' | 'scene'>> => ({
  frame: await frameOfRow(context, batch, row),
  scene: digestOfBatch(batch).scene,
});

const viewOf = (row: Pick<BatchFrame, 'kind' | 'view'>): string => (isMoving(row.kind ?? '') ? '' : (row.view ?? ''));

async function replies(rows: readonly NoteRow[]): Promise<NoteReply[]> {
  const answers = await NoteAnswer.findAll({ where: { noteId: rows.map((r) => r.id) }, order: ['id'], raw: true });
  const batches = await Batch.findAll({ where: { id: [...new Set(rows.map((r) => r.batchId))] }, attributes: BATCH_SUMMARY_COLUMNS });
  const revisions = await Revision.findAll({ where: { id: batches.map((b) => b.revisionId) }, attributes: ['id', 'letter'] });
  const letterOf = (batchId: number): string => {
    const batch = batches.find((b) => b.id === batchId);
    return revisions.find((r) => r.id === batch?.revisionId)?.letter ?? '?';
  };
  return rows.map((r) => ({
    id: r.id,
    batch: r.batchId,
    frame: r.frameId,
    run: r.run,
    number: r.number,
    to: r.lastNumber,
    revision: letterOf(r.batchId),
    shape: JSON.parse(r.shape) as NoteShape,
    text: r.text,
    author: r.author,
    state: r.state as NoteReply['state'],
    part: r.part,
    time: r.time,
    ...(r.via && { via: r.via }),
    answers: answers.filter((a) => a.noteId === r.id).map(({ id, text, author, time, via }) => ({ id, text, author, time, ...(via && { via }) })),
  }));
}

const reply = async (row: NoteRow): Promise<NoteReply> => (await replies([row]))[0]!;

/** Where a note comes from, where that is not the application: a review page, and its key and time in a file. */
export interface NoteOrigin {
  via?: string;
  key?: string;
  time?: string;
}

/** Pins a note; what part is at its place is found out by the frame's own plan. */
export async function addNote(
  context: ServerContext,
  batchId: number,
  frameId: number,
  { shape, text, author, to }: z.infer<typeof newNote>,
  { via, key, time }: NoteOrigin = {},
): Promise<{ note: NoteReply; setId: number }> {
  const { batch, row } = await frameRow(batchId, frameId);
  if (to !== undefined && to < row.number)
    throw new ServerError('invalid-input', `The note begins at frame ${row.number}; its last frame is not before that.`);
  const map = await context.comparer.partMap(context, await mapped(context, batch, row), context.closing);
  const note = await context.database.write((transaction) =>
    NoteRow.create(
      {
        setId: batch.setId,
        batchId,
        frameId,
        run: row.shot,
        view: viewOf(row),
        number: row.number,
        lastNumber: to ?? row.number,
        shape: JSON.stringify(shape),
        text,
        author,
        state: 'open',
        part: partAt(map, placeOfShape(shape)),
        time: time ?? new Date().toISOString(),
        via: via ?? null,
        key: key ?? null,
      },
      { transaction },
    ),
  );
  return { note: await reply(note), setId: batch.setId };
}

/** The note of that id. @throws 404 where there is none, or it was deleted. */
export async function findNote(id: number, deleted = false): Promise<NoteRow> {
  const note = await NoteRow.findByPk(id);
  if (!note || (note.deleted !== null && !deleted)) throw notFound(`Note ${id}`);
  return note;
}

/** Changes words, state or place of a note. */
export async function changeNote(
  { database }: ServerContext,
  id: number,
  { text, state, shape }: z.infer<typeof noteChange>,
): Promise<{ note: NoteReply; setId: number }> {
  const row = await findNote(id);
  row.set({ ...(text !== undefined && { text }), ...(state !== undefined && { state }), ...(shape && { shape: JSON.stringify(shape) }) });
  await database.write((transaction) => row.save({ transaction }));
  return { note: await reply(row), setId: row.setId };
}

/** Takes a note out of sight, or brings it back. */
export async function deleteNote({ database }: ServerContext, id: number, deleted: boolean): Promise<{ setId: number }> {
  const row = await findNote(id, true);
  row.set({ deleted: deleted ? new Date().toISOString() : null });
  await database.write((transaction) => row.save({ transaction, fields: ['deleted'] }));
  return { setId: row.setId };
}

/** Adds an answer to a note. */
export async function answerNote(
  { database }: ServerContext,
  id: number,
  { text, author }: z.infer<typeof newAnswer>,
  { via, key, time }: NoteOrigin = {},
): Promise<{ note: NoteReply; setId: number }> {
  const row = await findNote(id);
  const answer = { noteId: id, text, author, time: time ?? new Date().toISOString(), via: via ?? null, key: key ?? null };
  await database.write((transaction) => NoteAnswer.create(answer, { transaction }));
  return { note: await reply(row), setId: row.setId };
}

/** Notes that were pinned to frames of these, the oldest first. */
export async function notesOfFrames(frames: readonly number[]): Promise<NoteReply[]> {
  return replies(await NoteRow.findAll({ where: { frameId: [...frames], deleted: null }, order: ['id'], limit: MAX_NOTES }));
}

/** All notes of a set, the newest first. */
export async function listNotes(setId: number): Promise<NoteReply[]> {
  return replies(await NoteRow.findAll({ where: { setId, deleted: null }, order: [['id', 'DESC']], limit: MAX_NOTES }));
}

/** Notes as they stand in a frame: its own, and those of other renders of the shot, carried by their parts. */
export async function notesInFrame(context: ServerContext, batchId: number, frameId: number, signal: AbortSignal): Promise<PlacedNote[]> {
  const { batch, row } = await frameRow(batchId, frameId);
  const number = isMoving(row.kind ?? '') ? { number: { [Op.lte]: row.number }, lastNumber: { [Op.gte]: row.number } } : {};
  const rows = await NoteRow.findAll({
    where: { setId: batch.setId, run: row.shot, view: viewOf(row), deleted: null, ...number },
    order: ['id'],
    limit: MAX_NOTES,
  });
  const placed: PlacedNote[] = [];
  for (const note of await replies(rows)) {
    if (note.frame === frameId) placed.push({ ...note, how: 'own' });
    // What is about no part stays where it is.
    else if (note.part === null) placed.push({ ...note, how: 'carried' });
    else {
      const shape = await carriedShape(context, note, batch, row, signal);
      placed.push(shape ? { ...note, shape, how: 'carried' } : { ...note, how: 'lost' });
    }
  }
  return placed;
}

/** The shape where the note's part is in another frame; null where that is not seen, or the frame is gone that it was pinned to. */
async function carriedShape(context: ServerContext, note: NoteReply, batch: Batch, row: BatchFrame, signal: AbortSignal): Promise<NoteShape | null> {
  const from = await BatchFrame.findByPk(note.frame);
  const fromBatch = from && (await Batch.findByPk(from.batchId));
  if (!from || !fromBatch || note.part === null) return null;
  const { comparer } = context;
  const [was, is] = [
    await comparer.partMap(context, await mapped(context, fromBatch, from), signal),
    await comparer.partMap(context, await mapped(context, batch, row), signal),
  ];
  const to = followPlace(was, is, note.part, placeOfShape(note.shape));
  return to && moveShape(note.shape, to);
}

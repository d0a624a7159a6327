/** Routes of notes on renders. */
import type { Router } from 'express';
import { newAnswer, newNote, noteChange } from '../../contract/notes.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import type { ServerContext } from '../context.js';
import { addNote, answerNote, changeNote, deleteNote, listNotes, notesInFrame } from '../results/notes.js';
import { findSet } from '../sets.js';
import { abortOnClose, idOf, parse } from './params.js';

/** Routes of notes, answers and decisions. */
export function noteRoutes(api: Router, context: ServerContext): void {
  /** Whoever has the set open asks for its notes anew. */
  const tell = async (setId: number): Promise<void> => {
    const { projectId } = await findSet(setId);
    context.events.send(projectId, { type: 'notes', setId });
  };

  api.get('/sets/:id/notes', async (request, response) => {
    const { id } = await findSet(idOf(request.params.id, 'set'));
    response.json(await listNotes(id));
  });
  /** As they stand in this frame: its own, and carried ones of other renders of the shot. */
  api.get('/batches/:id/frames/:frame/notes', async (request, response) => {
    const gone = abortOnClose(response);
    try {
      response.json(await notesInFrame(context, idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'), gone));
    } catch (e) {
      if (!(e instanceof AbortedError && gone.aborted)) throw e;
    }
  });
  api.post('/batches/:id/frames/:frame/notes', async (request, response) => {
    const asked = parse(newNote, request.body);
    const { note, setId } = await addNote(context, idOf(request.params.id, 'batch'), idOf(request.params.frame, 'frame'), asked);
    response.status(201).json(note);
    await tell(setId);
  });
  api.put('/notes/:id', async (request, response) => {
    const { note, setId } = await changeNote(context, idOf(request.params.id, 'note'), parse(noteChange, request.body));
    response.json(note);
    await tell(setId);
  });
  api.post('/notes/:id/answers', async (request, response) => {
    const { note, setId } = await answerNote(context, idOf(request.params.id, 'note'), parse(newAnswer, request.body));
    response.status(201).json(note);
    await tell(setId);
  });
  for (const [method, path, deleted] of [
    ['delete', '/notes/:id', true],
    ['post', '/notes/:id/restore', false],
  ] as const)
    api[method](path, async (request, response) => {
      const { setId } = await deleteNote(context, idOf(request.params.id, 'note'), deleted);
      response.status(204).end();
      await tell(setId);
    });
}

/** Notes on renders: pinned, answered, done, deleted and brought back, and carried by their part into the next revision. */
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { blockObj } from '../../../tests/support/box.js';
import type { ProjectReply } from '../../contract/contract.js';
import type { NoteReply, PlacedNote } from '../../contract/notes.js';
import type { SetFile } from '../../core/plan/set.js';

const here = new BatchesHere();
const call = () => here.server.call();
const notesOf = async (batch: number, frame: number): Promise<PlacedNote[]> =>
  (await call().get(`/api/batches/${batch}/frames/${frame}/notes`).expect(200)).body as PlacedNote[];
const pin = (x: number, y: number) => ({ kind: 'pin', points: [[x, y]] });
const file = (frames: number): SetFile => ({ ...here.file(frames), sheet: { ...here.file(frames).sheet, size: { width: 160, height: 90 } } });

describe('a note', () => {
  it('knows the part at its place, is answered, done, deleted and brought back', async () => {
    const set = await here.addSet(file(2));
    const batch = await here.rendered(set);
    const [frame] = await here.frames(batch.id);
    const made = (
      await call()
        .post(`/api/batches/${batch.id}/frames/${frame!.id}/notes`)
        .send({ shape: pin(0.5, 0.5), text: ' Too shiny ', author: 'Ana' })
        .expect(201)
    ).body as NoteReply;
    expect(made).toMatchObject({ text: 'Too shiny', author: 'Ana', state: 'open', number: 1, to: 1, revision: 'A', answers: [] });
    expect(['Body', 'Lid']).toContain(made.part);
    await call().post(`/api/notes/${made.id}/answers`).send({ text: 'As ordered', author: 'Bo' }).expect(201);
    const changed = (await call().put(`/api/notes/${made.id}`).send({ state: 'done' }).expect(200)).body as NoteReply;
    expect(changed).toMatchObject({ state: 'done', text: 'Too shiny', answers: [{ text: 'As ordered', author: 'Bo' }] });
    expect((await notesOf(batch.id, frame!.id)).map((n) => [n.id, n.how])).toEqual([[made.id, 'own']]);
    await call().delete(`/api/notes/${made.id}`).expect(204);
    expect(await notesOf(batch.id, frame!.id)).toEqual([]);
    await call().post(`/api/notes/${made.id}/restore`).expect(204);
    expect((await call().get(`/api/sets/${set.id}/notes`)).body).toHaveLength(1);
  });

  it('of a range of frames stands in each of them, and only there', async () => {
    const set = await here.addSet(file(4));
    const batch = await here.rendered(set);
    const frames = await here.frames(batch.id);
    await call()
      .post(`/api/batches/${batch.id}/frames/${frames[1]!.id}/notes`)
      .send({ shape: pin(0.5, 0.5), text: 'Watch the edge', to: 3 })
      .expect(201);
    const counts = [];
    for (const f of frames) counts.push((await notesOf(batch.id, f.id)).map((n) => n.how));
    expect(counts).toEqual([[], ['own'], ['carried'], []]);
    await call()
      .post(`/api/batches/${batch.id}/frames/${frames[2]!.id}/notes`)
      .send({ shape: pin(0.5, 0.5), text: 'x', to: 1 })
      .expect(400);
  });

  it('follows its part into the next revision, and says where it could not', async () => {
    const add = async (more: { name: string; size: number[] }[]): Promise<number> => {
      const reply = await call()
        .post(`/api/projects/${here.project.id}/model?unit=mm&up=z`)
        .attach('files', Buffer.from(blockObj(more).obj), 'block.obj');
      return (reply.body as ProjectReply).revisions.at(-1)!.id;
    };
    const set = await here.addSet(file(1));
    // The tower stands in the next revision twice as high, and is gone in the one after.
    const [low, high, none] = [
      await add([{ name: 'Tower', size: [60, 60, 400] }]),
      await add([{ name: 'Tower', size: [60, 60, 600] }]),
      await add([]),
    ];
    const [a, b, c] = [
      await here.rendered(set, { revision: low }),
      await here.rendered(set, { revision: high }),
      await here.rendered(set, { revision: none }),
    ];
    const frameOf = async (id: number): Promise<number> => (await here.frames(id))[0]!.id;
    // Somewhere on the tower: looked for along a column of the render.
    let made: NoteReply | null = null;
    const frame = await frameOf(a.id);
    for (let y = 0.05; y < 0.95 && made?.part !== 'Tower'; y += 0.05)
      for (let x = 0.3; x < 0.7 && made?.part !== 'Tower'; x += 0.05)
        made = (
          await call()
            .post(`/api/batches/${a.id}/frames/${frame}/notes`)
            .send({ shape: pin(x, y), text: 'Tower' })
        ).body as NoteReply;
    expect(made!.part).toBe('Tower');
    const find = async (batch: number): Promise<PlacedNote> => (await notesOf(batch, await frameOf(batch))).find((n) => n.id === made!.id)!;
    const carried = await find(b.id);
    expect(carried.how).toBe('carried');
    // Up the higher tower, not sideways.
    expect(carried.shape.points[0]![1]).toBeLessThan(made!.shape.points[0]![1]);
    expect(Math.abs(carried.shape.points[0]![0] - made!.shape.points[0]![0])).toBeLessThan(0.1);
    expect(await find(c.id)).toMatchObject({ how: 'lost', shape: made!.shape });
  });

  it('is refused without words, outside the render, and on what is not there', async () => {
    const set = await here.addSet(file(1));
    const batch = await here.rendered(set);
    const [frame] = await here.frames(batch.id);
    const post = (body: object, frameId = frame!.id) => call().post(`/api/batches/${batch.id}/frames/${frameId}/notes`).send(body);
    await post({ shape: pin(0.5, 0.5), text: '  ' }).expect(400);
    await post({ shape: pin(0.5, 1.5), text: 'x' }).expect(400);
    await post({ shape: pin(0.5, 0.5), text: 'x' }, 987654).expect(404);
    await call().put('/api/notes/987654').send({ state: 'done' }).expect(404);
  });
});

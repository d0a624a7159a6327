/** What people decide of renders: kept with the frames, logged, told once. */
import { describe, expect, it, vi } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { DecisionReply } from '../../contract/results.js';
import { parseCsv } from '../../core/base/csv.js';
import { BatchFrame } from '../db/models.js';

const here = new BatchesHere();
const call = () => here.server.call();

describe('decisions', () => {
  it('are kept with reason and author, of a frame or a whole shot, and all of them in a log', async () => {
    const set = await here.addSet(here.file(3));
    const batch = await here.rendered(set);
    const frames = await here.frames(batch.id);
    await call().put(`/api/batches/${batch.id}/decision`).send({ run: 'spin', decision: 'accepted', author: 'Ana' }).expect(200, { frames: 3 });
    await call()
      .put(`/api/batches/${batch.id}/frames/${frames[1]!.id}/decision`)
      .send({ decision: 'redo', reason: 'Too dark, "as if" at night', author: 'Bo' })
      .expect(200);
    expect((await here.frames(batch.id)).map((f) => [f.decision, f.decisionReason])).toEqual([
      ['accepted', undefined],
      ['redo', 'Too dark, "as if" at night'],
      ['accepted', undefined],
    ]);
    await call().put(`/api/batches/${batch.id}/frames/${frames[1]!.id}/decision`).send({ decision: null }).expect(200);
    const log = (await call().get(`/api/sets/${set.id}/decisions`).expect(200)).body as DecisionReply[];
    expect(log.map((l) => [l.number, l.decision, l.author, l.reason])).toEqual([
      [2, null, '', ''],
      [2, 'redo', 'Bo', 'Too dark, "as if" at night'],
      [3, 'accepted', 'Ana', ''],
      [2, 'accepted', 'Ana', ''],
      [1, 'accepted', 'Ana', ''],
    ]);
    expect(log[1]!.identity).toMatch(/^[0-9a-f]{16,}$/);
    const table = parseCsv((await call().get(`/api/sets/${set.id}/decisions?format=csv`).expect(200)).text);
    expect(table).toHaveLength(6);
    expect(table[2]!.slice(1, 6)).toEqual(['Bo', 'redo', 'Too dark, "as if" at night', 'spin', '2']);
    // The log outlives the batch.
    await call().delete(`/api/batches/${batch.id}`);
    expect(((await call().get(`/api/sets/${set.id}/decisions`)).body as DecisionReply[]).length).toBe(5);
  });

  it('about a shot of thousands of frames are one event and one line a frame', async () => {
    const set = await here.addSet(here.file(3));
    const batch = await here.rendered(set);
    const [first] = await BatchFrame.findAll({ where: { batchId: batch.id }, raw: true });
    const { id: _, ...row } = first!;
    const more = Array.from({ length: 3000 }, (_, i) => ({ ...row, position: 10 + i, number: 10 + i, name: `${row.name}-${i}` }));
    await BatchFrame.bulkCreate(more);
    const sent = vi.spyOn(here.server.running.context.events, 'send');
    const said = { run: 'spin', decision: 'redo', reason: 'Too dark' };
    await call().put(`/api/batches/${batch.id}/decision`).send(said).expect(200, { frames: 3003 });
    // The batch's own end may be told while this goes on.
    expect(sent.mock.calls.map(([, event]) => event).filter((event) => event.type !== 'batch')).toEqual([
      { type: 'decided', batchId: batch.id, ...said },
    ]);
    sent.mockRestore();
    expect(await BatchFrame.count({ where: { batchId: batch.id, decision: 'redo', decisionReason: 'Too dark' } })).toBe(3003);
    expect(((await call().get(`/api/sets/${set.id}/decisions`)).body as DecisionReply[]).length).toBe(3003);
  });

  it('are refused of what is not rendered, of nothing, and without words where words are given', async () => {
    const set = await here.addSet(here.file(2));
    const batch = await here.rendered(set);
    await call().put(`/api/batches/${batch.id}/decision`).send({ run: 'gone', decision: 'redo' }).expect(409);
    await call().put(`/api/batches/${batch.id}/decision`).send({ run: 'spin', decision: 'maybe' }).expect(400);
    await call().put(`/api/batches/${batch.id}/decision`).send({ run: 'spin', decision: 'redo', reason: '  ' }).expect(400);
    expect((await call().get(`/api/sets/${set.id}/decisions`)).body).toEqual([]);
  });
});

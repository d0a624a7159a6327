import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { blockObj } from '../../tests/support/box.js';
import { ServerHere } from '../../tests/support/serverHere.js';
import { spin } from '../../tests/support/spin.js';
import type { ProjectReply, SetReply } from '../contract/contract.js';

const server = new ServerHere();
beforeAll(() => server.start());
afterAll(() => server.end());
const call = () => server.call();

describe('projects and sets that are taken away', () => {
  const names = async (query = '') => ((await call().get(`/api/projects${query}`)).body as ProjectReply[]).map((p) => p.name);
  const send = async (name: string) => (await call().post('/api/projects').send({ name })).body as ProjectReply;

  it('come back whole, and their numbers say meanwhile what became of them', async () => {
    const { id, sets } = await send('Gone');
    expect((await call().delete(`/api/projects/${id}`)).status).toBe(200);
    expect([await names(), await names('?deleted')]).toEqual([expect.not.arrayContaining(['Gone']), expect.arrayContaining(['Gone'])]);
    const away = await call().get(`/api/projects/${id}`);
    expect([away.status, (away.body as { detail: string }).detail]).toEqual([
      404,
      'The project "Gone" was deleted. Restore it on the projects page.',
    ]);
    const back = (await call().post(`/api/projects/${id}/restore`)).body as ProjectReply;
    expect(back).toMatchObject({ id, name: 'Gone', sets });
    expect((await call().put(`/api/projects/${id}`).send({ name: 'Found' })).body).toMatchObject({ name: 'Found' });
    expect((await call().put(`/api/projects/${id}`).send({ name: '' })).status).toBe(400);
    expect((await call().delete('/api/projects/99999')).status).toBe(404);
  });

  it('are no set that is the only one, and none that is to be rendered', async () => {
    const { id, sets } = await send('Sets');
    const only = await call().delete(`/api/sets/${sets[0]!.id}`);
    expect([only.status, (only.body as { detail: string }).detail]).toEqual([409, expect.stringContaining('is the only set of its project')]);
    const second = (await call().post(`/api/projects/${id}/sets`).send({ file: spin() })).body as SetReply;
    expect((await call().delete(`/api/sets/${second.id}`)).status).toBe(200);
    expect((await call().get(`/api/sets/${second.id}`)).status).toBe(404);
    expect((await call().post(`/api/sets/${second.id}/restore`)).status).toBe(200);
    expect(((await call().get(`/api/projects/${id}`)).body as ProjectReply).sets.map((s) => s.id)).toEqual([sets[0]!.id, second.id]);
  });

  it('are no revision that is the only one, and one that comes back with its model; letters are not given twice', async () => {
    const project = await server.blockProject('Revisions');
    const again = async () =>
      (await call().post(`/api/projects/${project.id}/model?unit=mm&up=z`).attach('files', Buffer.from(blockObj().obj), 'block.obj'))
        .body as ProjectReply;
    const [a] = project.revisions;
    const only = await call().delete(`/api/revisions/${a!.id}`);
    expect([only.status, (only.body as { detail: string }).detail]).toEqual([
      409,
      'Revision A is the only one of its project. Import another one first, or delete the project.',
    ]);
    const b = (await again()).revisions.at(-1)!;
    expect((await call().delete(`/api/revisions/${b.id}`)).status).toBe(200);
    const left = (await call().get(`/api/projects/${project.id}`)).body as ProjectReply;
    expect([left.revisions.map((r) => r.letter), left.deletedRevisions]).toEqual([['A'], [{ id: b.id, letter: 'B' }]]);
    expect((await again()).revisions.map((r) => r.letter)).toEqual(['A', 'C']);
    // What is compared with an earlier one passes over it.
    const c = ((await call().get(`/api/projects/${project.id}`)).body as ProjectReply).revisions.at(-1)!;
    expect(((await call().get(`/api/revisions/${c.id}/match`)).body as { with: string }).with).toBe('A');
    expect((await call().post(`/api/revisions/${b.id}/restore`)).status).toBe(200);
    const back = (await call().get(`/api/projects/${project.id}`)).body as ProjectReply;
    expect([back.revisions.map((r) => r.letter), back.deletedRevisions]).toEqual([['A', 'B', 'C'], undefined]);
    const copy = (await call().delete(`/api/revisions/${b.id}`), (await call().post(`/api/projects/${project.id}/duplicate`)).body as ProjectReply);
    expect(copy.revisions.map((r) => r.letter)).toEqual(['A', 'C']);
    const more = await call().post(`/api/projects/${copy.id}/model?unit=mm&up=z`).attach('files', Buffer.from(blockObj().obj), 'block.obj');
    expect((more.body as ProjectReply).revisions.map((r) => r.letter)).toEqual(['A', 'C', 'D']);
    expect((await call().delete('/api/revisions/99999')).status).toBe(404);
  });

  it('are no revision that is to be rendered', async () => {
    const project = await server.blockProject('Waiting');
    const later = (await call().post(`/api/projects/${project.id}/model?unit=mm&up=z`).attach('files', Buffer.from(blockObj().obj), 'block.obj'))
      .body as ProjectReply;
    const set = await server.addSet(later, spin());
    const revision = later.revisions.at(-1)!;
    await call()
      .post(`/api/sets/${set.id}/batches`)
      .send({ revision: revision.id, startAt: new Date(Date.now() + 3_600_000).toISOString() });
    const refused = await call().delete(`/api/revisions/${revision.id}`);
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      409,
      expect.stringMatching(/of revision B is queued\. Stop it first/),
    ]);
  });
});

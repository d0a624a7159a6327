import { afterAll, beforeAll, describe, expect, it } from 'vitest';
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
});

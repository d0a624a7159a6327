/** Starts that are sent again under the same key. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import type { BatchReply } from '../../contract/batches.js';
import type { ProjectReply, SetReply } from '../../contract/contract.js';

const server = new ServerHere();
let project: ProjectReply;
let set: SetReply;
beforeAll(async () => {
  await server.start();
  project = await server.blockProject('Block', '?unit=mm&up=z');
  set = await server.addSet(project, spin(2));
});
afterAll(() => server.end());

const start = (key: string | undefined, choice: object = {}) => {
  const call = server.call().post(`/api/sets/${set.id}/batches`);
  return (key === undefined ? call : call.set('idempotency-key', key)).send({ revision: project.revisions[0]!.id, ...choice });
};
const count = async (): Promise<number> => ((await server.call().get('/api/batches')).body as BatchReply[]).length;
const idOf = ({ body }: { body: unknown }): number => (body as BatchReply).id;
const detail = ({ body }: { body: unknown }): string => (body as { detail: string }).detail;

test('the same start under the same key is the batch that is there, also of an edited set', async () => {
  const first = await start('night-1').expect(201);
  const again = await start('night-1').expect(200);
  expect(idOf(again)).toBe(idOf(first));
  await server
    .call()
    .put(`/api/sets/${set.id}`)
    .send({ file: spin(3), version: set.version })
    .expect(200);
  expect(idOf(await start('night-1').expect(200))).toBe(idOf(first));
  expect(await count()).toBe(1);
  expect(idOf(await start('night-2').expect(201))).not.toBe(idOf(first));
  await start(undefined).expect(201);
  await start(undefined).expect(201);
  expect(await count()).toBe(4);
});

test('another start under the same key is refused, and a key that is none', async () => {
  const refused = await start('night-1', { select: '1' }).expect(422);
  expect(detail(refused)).toBe('Idempotency-Key "night-1" was sent with another request: batch 1. Use a new key for a new batch.');
  for (const key of ['two words', 'x'.repeat(201)]) expect(detail(await start(key).expect(400))).toContain('1 to 200');
  // What looks like SQL is a key like others.
  await start("a'--").expect(201);
  await start("a'--").expect(200);
});

test('of starts at the same time one makes the batch', async () => {
  const before = await count();
  const replies = await Promise.all(Array.from({ length: 5 }, () => start('together')));
  expect(replies.filter((r) => r.status === 201)).toHaveLength(1);
  expect(replies.every((r) => [200, 201, 409].includes(r.status))).toBe(true);
  expect(await count()).toBe(before + 1);
});

test('a start that failed leaves its key free', async () => {
  const refused = await start('wrong', { variant: 'none' }).expect(422);
  expect(detail(refused)).toContain('no variant');
  await start('wrong', { variant: 'none' }).expect(422);
  await start('wrong').expect(201);
});

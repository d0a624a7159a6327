/** One frame at once: the very picture that a batch would make, or a smaller one. */
import sharp from 'sharp';
import type { Response } from 'superagent';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import type { BatchReply, FrameReply } from '../../contract/batches.js';
import type { ProjectReply, SetReply } from '../../contract/contract.js';
import type { SetFile } from '../../core/plan/set.js';

const server = new ServerHere();
let project: ProjectReply;
beforeAll(async () => {
  await server.start();
  project = await server.blockProject('Block', '?unit=mm&up=z');
});
afterAll(() => server.end());

const file = (eye: [number, number, number] = [0.9, 0.5, 1.2]): SetFile => {
  const set = spin(4);
  return {
    ...set,
    sheet: { ...set.sheet, quality: 'draft', passes: ['beauty', 'depth'] },
    views: set.views.map((v) => ({ ...v, eye, target: [0, 0.1, 0] })),
  };
};
const bytes = (request: ReturnType<ReturnType<typeof server.call>['get']>) =>
  request.buffer(true).parse((response, done) => {
    const parts: Buffer[] = [];
    (response as unknown as NodeJS.ReadableStream).on('data', (part: Buffer) => parts.push(part));
    (response as unknown as NodeJS.ReadableStream).on('end', () => done(null, Buffer.concat(parts)));
  });
const ask = (set: SetReply, number: number, scale: number): Promise<Response> =>
  bytes(
    server.call().get(`/api/sets/${set.id}/test-frame.png?revision=${project.revisions[0]!.id}&run=spin&number=${number}&scale=${scale}&token=t`),
  );
const raw = async (png: Buffer) => sharp(png).raw().toBuffer({ resolveWithObject: true });

it('is pixel for pixel what a batch makes of the frame, and tells what it took', async () => {
  const set = await server.addSet(project, file());
  const reply = await ask(set, 3, 1);
  expect(Number(reply.headers['x-render-seconds'])).toBeGreaterThan(0);
  expect(reply.headers['x-render-samples']).toBe('16');
  const { id } = (await server.call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id })).body as BatchReply;
  await vi.waitFor(async () => expect(((await server.call().get(`/api/batches/${id}`)).body as BatchReply).state).toBe('done'), { timeout: 20_000 });
  const frames = (await server.call().get(`/api/batches/${id}/frames`)).body as FrameReply[];
  const finished = await bytes(server.call().get(`/api/batches/${id}/frames/${frames[2]!.id}/picture?file=0`));
  const [test, batch] = [await raw(reply.body as Buffer), await raw(finished.body as Buffer)];
  expect(test.info).toMatchObject({ width: 32, height: 18 });
  expect(test.data.equals(batch.data)).toBe(true);
});

it('comes smaller, of the same view', async () => {
  const reply = await ask(await server.addSet(project, { ...file(), sheet: { ...file().sheet, size: { width: 96, height: 54 } } }), 1, 0.5);
  expect((await raw(reply.body as Buffer)).info).toMatchObject({ width: 48, height: 27 });
});

it('of an empty frame says why there is none; a strange frame and a strange scale are refused', async () => {
  const away = { ...file(), stage: { ...file().stage, ground: { kind: 'none' as const } } };
  const set = await server.addSet(project, { ...away, views: away.views.map((v) => ({ ...v, target: [9, 9, 9] as [number, number, number] })) });
  const empty = await ask(set, 1, 1);
  expect(empty.status).toBe(422);
  expect((empty.body as Buffer).toString()).toContain('The render is empty');
  expect((await ask(set, 99, 1)).status).toBe(404);
  expect((await ask(set, 1, 2)).status).toBe(400);
});

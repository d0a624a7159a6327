/** What is looked at before a batch is queued, and the plan as other programs get it. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { framesReply } from '../../contract/routes/replies.js';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import type { BatchReply } from '../../contract/batches.js';
import type { ProjectReply } from '../../contract/contract.js';
import type { SetFile } from '../../core/plan/set.js';

const server = new ServerHere();
let project: ProjectReply;
beforeAll(async () => {
  await server.start();
  project = await server.blockProject('Block', '?unit=mm&up=z');
});
afterAll(() => server.end());

const start = async (file: SetFile) => {
  const set = await server.addSet(project, file);
  return server.call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id });
};
const swapping = (to: string): SetFile['materials'] => ({
  parts: [],
  rules: [],
  swaps: [],
  materials: [],
  variants: [
    { id: 'plain', name: 'Plain', swaps: [{ from: 'default', to: 'white paint' }] },
    { id: 'other', name: 'Other', swaps: [{ from: 'default', to }] },
  ],
});

describe('a start', () => {
  it('knows the materials of every variant that some frame shows', async () => {
    const file = spin(2);
    const inBoth = { ...file.shots[0]!, variants: ['plain', 'other'] };
    const refused = await start({ ...file, materials: swapping('moon dust'), shots: [inBoth] });
    expect(refused.status).toBe(422);
    expect((refused.body as { detail: string }).detail).toContain('There is no material "moon dust"');
    // Nobody shows the second.
    expect((await start({ ...file, materials: swapping('moon dust'), shots: [{ ...inBoth, variants: ['plain'] }] })).status).toBe(201);
    expect((await start({ ...file, materials: swapping('blackened steel'), shots: [inBoth] })).status).toBe(201);
  });
});

describe('a batch of one variant', () => {
  it('has its materials and its name; an unknown one is refused', async () => {
    const set = await server.addSet(project, { ...spin(1), materials: swapping('blackened steel') });
    const begin = (variant?: string) =>
      server
        .call()
        .post(`/api/sets/${set.id}/batches`)
        .send({ revision: project.revisions[0]!.id, ...(variant && { variant }) });
    const plain = (await begin()).body as BatchReply;
    const other = (await begin('other')).body as BatchReply;
    expect([plain.name, other.name]).toEqual(['Spin', 'Spin, Other']);
    const identity = async ({ id }: BatchReply): Promise<string> => {
      const { body } = await server.call().get(`/api/batches/${id}/plan`);
      return (body as { frames: { identity: string }[] }).frames[0]!.identity;
    };
    expect(await identity(other)).not.toBe(await identity(plain));
    const refused = await begin('third');
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      422,
      expect.stringContaining('no variant "third" in the set "Spin"'),
    ]);
  });
});

describe('the plan of a set as JSON', () => {
  it('has every frame with its camera and turn, on the revision that is asked for', async () => {
    const set = await server.addSet(project, spin(4));
    const { status, body } = await server.call().get(`/api/sets/${set.id}/plan.json?revision=${project.revisions[0]!.id}`);
    // It is sent in pieces, so nothing holds it against its description but this: each value is told there.
    expect(framesReply.parse(body)).toEqual(body);
    const { frames } = body as { frames: { shot: string; number: number; turn: { angle: number }; camera: { eye: number[] }; identity: string }[] };
    expect(status).toBe(200);
    expect(frames.map((f) => [f.shot, f.number, f.turn.angle])).toEqual([0, 90, 180, 270].map((angle, i) => ['spin', i + 1, angle]));
    expect(frames[0]!.camera.eye).toEqual([3, 2, 4]);
    expect(new Set(frames.map((f) => f.identity)).size).toBe(4);
  });

  it('is refused for a revision that is none', async () => {
    const set = await server.addSet(project, spin(4));
    expect((await server.call().get(`/api/sets/${set.id}/plan.json?revision=abc`)).status).toBe(400);
    expect((await server.call().get(`/api/sets/${set.id}/plan.json?revision=999`)).status).toBe(404);
  });

  it('comes as lists, timelines and cameras for other programs', async () => {
    const set = await server.addSet(project, spin(4));
    const of = (list: string) => server.call().get(`/api/sets/${set.id}/lists/${list}?revision=${project.revisions[0]!.id}`);
    const shots = await of('shots.csv')
      .expect(200)
      .expect('content-type', /^text\/csv/)
      .expect('content-disposition', /Spin\.shots\.csv/);
    expect(shots.text).toMatch(/^number,shot,kind,/);
    const timeline = await of('otio').expect(200);
    expect((JSON.parse(timeline.text) as { OTIO_SCHEMA: string }).OTIO_SCHEMA).toBe('Timeline.1');
    expect((await of('edl').expect(200)).text).toContain('TITLE:');
    const cameras = await of('usda')
      .buffer(true)
      .parse((response, done) => {
        let text = '';
        response.on('data', (chunk: Buffer) => (text += chunk.toString()));
        response.on('end', () => done(null, text));
      });
    expect(cameras.headers['content-type']).toMatch(/^model\/vnd\.usda/);
    expect(cameras.body).toMatch(/^#usda 1\.0\n/);
    for (const wrong of ['plan', 'constructor']) {
      const refused = await of(wrong).expect(404);
      expect((refused.body as { detail: string }).detail).toContain('there is shots.csv, suns.csv');
    }
  });
});

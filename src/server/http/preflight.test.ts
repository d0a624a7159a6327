/** Checks before a run as other programs ask for them, and what becomes of a start that accepts faults. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import type { BatchReply } from '../../contract/batches.js';
import type { ProjectReply, SetReply } from '../../contract/contract.js';
import type { PreflightReply } from '../../contract/preflight.js';
import type { SetFile } from '../../core/plan/set.js';
import { PRIORITY } from '../priorities.js';

const server = new ServerHere();
let project: ProjectReply;
beforeAll(async () => {
  await server.start();
  project = await server.blockProject('Block', '?unit=mm&up=z');
});
afterAll(() => server.end());

const ask = (set: SetReply, more = '') => server.call().get(`/api/sets/${set.id}/preflight?revision=${project.revisions[0]!.id}${more}`);
const check = async (set: SetReply, more = ''): Promise<PreflightReply> => (await ask(set, more)).body as PreflightReply;
const ids = ({ findings }: PreflightReply): string[] => findings.filter((f) => f.severity !== 'note').map((f) => f.check);
/** The block is 40 cm wide: from so far away it takes little of the frame, and from inside nothing is seen. */
const seenFrom = (eye: [number, number, number]): SetFile => {
  const file = spin(4);
  return { ...file, sheet: { ...file.sheet, shutter: 180 }, views: file.views.map((v) => ({ ...v, eye, target: [0, 0.1, 0] })) };
};

describe('a check', () => {
  it('says what is wrong with which frames, and how to mend it', async () => {
    const clean = await check(await server.addSet(project, seenFrom([0.9, 0.5, 1.2])));
    expect(ids(clean)).toEqual([]);
    expect(clean).toMatchObject({ frames: 4, probed: 4, waivers: [] });
    const far = await check(await server.addSet(project, seenFrom([9, 5, 12])));
    expect(ids(far)).toEqual(['subject-small']);
    expect(far.findings[0]).toMatchObject({ severity: 'doubt', run: 'spin', frames: [1, 2, 3, 4] });
    expect(far.findings[0]!.fix!.patch).toHaveLength(1);
    const inside = await check(await server.addSet(project, seenFrom([0.2, 0.08, -0.15])));
    expect(ids(inside)).toContain('camera-inside');
  });

  it('lets batches and trials wait, and nobody who waits for a render, until it is done', async () => {
    const { pool } = server.running.context;
    const hold = pool.hold.bind(pool);
    const said: string[] = [];
    pool.hold = (below) => {
      said.push(`below ${below}`);
      const release = hold(below);
      return () => {
        said.push('released');
        release();
      };
    };
    try {
      await check(await server.addSet(project, seenFrom([0.8, 0.6, 1.1])));
    } finally {
      pool.hold = hold;
    }
    expect(said).toEqual([`below ${PRIORITY.check}`, 'released']);
    // Whoever waits for a render does not wait for a check.
    const { check: own, trial, ...waitedFor } = PRIORITY;
    expect(trial).toBeLessThan(own);
    expect(Math.min(...Object.values(waitedFor))).toBeGreaterThan(own);
  });

  it('looks at the chosen frames alone', async () => {
    const set = await server.addSet(project, seenFrom([9, 5, 12]));
    const report = await check(set, '&select=2');
    expect(report).toMatchObject({ frames: 1, probed: 1 });
    expect(report.findings[0]!.frames).toEqual([2]);
  });

  it('names images that are missing, and says the rest that needs none', async () => {
    const file = seenFrom([0.9, 0.5, 1.2]);
    const lost = `${'a'.repeat(64)}.png`;
    const report = await check(await server.addSet(project, { ...file, stage: { ...file.stage, backdropImage: { file: lost } } }));
    expect(ids(report)).toEqual(['missing-files']);
    expect(report.findings[0]!.message).toContain(lost);
    expect(report.probed).toBe(0);
  });

  it('of a set that cannot be planned says why', async () => {
    const file = seenFrom([0.9, 0.5, 1.2]);
    const twice = {
      ...file,
      shots: [
        { ...file.shots[0]!, name: 'Spin' },
        { ...file.shots[0]!, id: 'again', name: 'Spin' },
      ],
    };
    const report = await check(await server.addSet(project, twice));
    expect(report.findings).toMatchObject([{ check: 'names-alike', severity: 'fault', fix: { label: 'Number same-named shots' } }]);
    expect(report.findings[0]!.message).toContain('Two frames would be named');
  });

  it('of a revision that is not there answers 404', async () => {
    const set = await server.addSet(project, seenFrom([0.9, 0.5, 1.2]));
    expect((await server.call().get(`/api/sets/${set.id}/preflight?revision=99`)).status).toBe(404);
  });
});

it('faults that were accepted at the start stay with the batch', async () => {
  const set = await server.addSet(project, seenFrom([0.9, 0.5, 1.2]));
  const acceptedFaults = ['Spin: The subject leaves the frame.'];
  const revision = project.revisions[0]!.id;
  const { id } = (await server.call().post(`/api/sets/${set.id}/batches`).send({ revision, acceptedFaults })).body as BatchReply;
  expect(((await server.call().get(`/api/batches/${id}`)).body as BatchReply).acceptedFaults).toEqual(acceptedFaults);
  const plain = (await server.call().post(`/api/sets/${set.id}/batches`).send({ revision })).body as BatchReply;
  expect(plain.acceptedFaults).toBeUndefined();
});

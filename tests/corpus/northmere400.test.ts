/** One material changed on one part of Northmere in a set of 400 frames: told, rendered where it shows, and the movie is whole. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { northmere } from '../../demo/northmere.js';
import type { ChangesReply } from '../../src/contract/changes.js';
import type { BatchReply, ClipReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { parseSet, type SetFile } from '../../src/core/plan/set.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { findFfmpeg } from '../../src/engine/node/ffmpeg.js';
import { ServerHere } from '../support/serverHere.js';

const server = new ServerHere();
const call = () => server.call();
const EACH = 100;
const PART = 'Pavilion/Ticket kiosk/Counter';

/** Four turntables, two of which leave the part out. */
const plan = (material: string): SetFile => {
  const view = { name: 'From above', eye: [19, 15, 23], target: [1, 1.2, 0], focalLength: 50 };
  const bare = { overrides: { hiddenParts: [PART] } };
  const shot = (id: string, of: string, start: number): object => ({
    id,
    kind: 'turntable',
    view: of,
    frames: EACH,
    start,
    turns: ['camera'],
    pivot: 'target',
  });
  return parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 'Four hundred',
    sheet: { size: { width: 32, height: 18 }, quality: 'quick' },
    stage: { preset: 'open sky' },
    materials: { parts: [{ path: PART, material }] },
    views: [
      { ...view, id: 'all' },
      { ...view, ...bare, id: 'bare', name: 'Without the counter' },
    ],
    shots: [shot('one', 'all', 0), shot('two', 'bare', 0), shot('three', 'all', 1.8), shot('four', 'bare', 1.8)],
  });
};

let project: ProjectReply;
beforeAll(async () => {
  await server.start();
  const made = (await call().post('/api/projects').send({ name: 'Northmere' })).body as ProjectReply;
  const glb = Buffer.from(await writeGlb(northmere()));
  project = (await call().post(`/api/projects/${made.id}/model?unit=m&up=y`).attach('files', glb, 'northmere.glb')).body as ProjectReply;
});
afterAll(() => server.end());

async function rendered(set: SetReply): Promise<BatchReply> {
  const { body } = await call().post(`/api/sets/${set.id}/batches`).send({ revision: project.revisions[0]!.id, firstFrames: 0 });
  for (;;) {
    const batch = (await call().get(`/api/batches/${(body as BatchReply).id}`)).body as BatchReply;
    if (batch.state === 'done') return batch;
    expect(['queued', 'running']).toContain(batch.state);
    await new Promise((r) => setTimeout(r, 50));
  }
}

const framesOf = async (batch: BatchReply): Promise<FrameReply[]> =>
  (await call().get(`/api/batches/${batch.id}/frames?limit=1000`)).body as FrameReply[];

/** Frames that the movie of a shot has, as ffmpeg counts them. */
async function framesOfMovie(batch: BatchReply, shot: string): Promise<number> {
  const { id } = (await call().post(`/api/batches/${batch.id}/clips`).send({ shot })).body as ClipReply;
  for (;;) {
    const clip = ((await call().get(`/api/batches/${batch.id}`)).body as BatchReply).clips.find((c) => c.id === id)!;
    if (clip.state === 'making') {
      await new Promise((r) => setTimeout(r, 50));
      continue;
    }
    expect([clip.state, clip.message]).toEqual(['ready', null]);
    const { stderr } = spawnSync(findFfmpeg(), ['-i', path.join(batch.folder, clip.fileName), '-f', 'null', '-'], { encoding: 'utf8' });
    return Number([...stderr.matchAll(/frame=\s*(\d+)/g)].at(-1)![1]);
  }
}

describe('400 frames of Northmere', () => {
  it('of which one material on one part makes 200 stale', async () => {
    const file = plan('oak, oiled');
    const set = (await server.addSet(project, file)) as SetReply & { version: number };
    const first = await rendered(set);
    expect(first).toMatchObject({ total: 4 * EACH, done: 4 * EACH, failed: 0 });
    const saved = await call()
      .put(`/api/sets/${set.id}`)
      .send({ file: plan('white paint'), version: set.version });
    expect(saved.status).toBe(200);
    const changes = (await call().get(`/api/sets/${set.id}/changes?revision=${project.revisions[0]!.id}`)).body as ChangesReply;
    expect(changes).toMatchObject({
      total: 400,
      takenOver: 200,
      toRender: 200,
      counts: { stale: 200, missing: 0 },
      reasons: [{ grounds: ['materials'], frames: 200 }],
    });
    const second = await rendered(set);
    expect(second).toMatchObject({ done: 400, failed: 0, takenOver: 200 });
    const [before, after] = [await framesOf(first), await framesOf(second)];
    const reused = new Set(after.filter((f) => f.takenOver).map((f) => f.shot));
    expect([...reused].sort()).toEqual(['four', 'two']);
    // What was rendered again is another picture somewhere in the turn, what was reused is the same file.
    const bytes = (batch: BatchReply, f: FrameReply): Buffer => readFileSync(path.join(batch.folder, f.files[0]!));
    const changed = after.filter((f, i) => !bytes(second, f).equals(bytes(first, before[i]!)));
    expect(changed.every((f) => !reused.has(f.shot))).toBe(true);
    expect(changed.length).toBeGreaterThan(0);
    expect([await framesOfMovie(second, 'one'), await framesOfMovie(second, 'two')]).toEqual([EACH, EACH]);
  });
});

/** Reels over batches: clips of other revisions and variants are of the renders that those have. */
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { asBuffer } from '../../../tests/support/asBuffer.js';
import { blockObj } from '../../../tests/support/box.js';
import { until } from '../../../tests/support/until.js';
import type { BatchReply, ClipReply } from '../../contract/batches.js';
import type { PackageReply } from '../../contract/packages.js';
import type { Manifest } from '../../core/handover/manifest.js';
import type { ProjectReply } from '../../contract/contract.js';
import type { SetFile } from '../../core/plan/set.js';
import { findFfmpeg } from '../../engine/node/ffmpeg.js';

const here = new BatchesHere();
const call = () => here.server.call();
const FRAMES = 3;

/** A turntable that is worn as the model has it; the variant is rendered by batches that ask for it. */
const file = (): SetFile => ({
  ...here.file(FRAMES),
  materials: {
    parts: [],
    rules: [],
    swaps: [],
    materials: [],
    variants: [{ id: 'dark', name: 'Dark', swaps: [{ from: 'white', to: 'blackened steel' }] }],
  },
});

const reel = (parts: object[]) => ({ id: 'cut', name: 'Cut', parts: parts.map((p) => ({ shot: 'spin', ...p })) });

const make = async (batch: BatchReply, parts: object[]) =>
  call()
    .post(`/api/batches/${batch.id}/clips`)
    .send({ reel: reel(parts) });

async function made(batch: BatchReply, parts: object[]): Promise<ClipReply> {
  const reply = await make(batch, parts);
  expect([reply.status, reply.body]).toEqual([201, expect.anything()]);
  const { id } = reply.body as ClipReply;
  const { clips } = await here.until(batch.id, (b) => b.clips.some((c) => c.id === id && c.state !== 'making'));
  const clip = clips.find((c) => c.id === id)!;
  expect([clip.state, clip.message]).toEqual(['ready', null]);
  return clip;
}

/** Of each picture of a movie: the one of the batches' frames that it is nearest to, by the mean difference of green. */
async function shownIn(batch: BatchReply, clip: ClipReply, from: Record<string, BatchReply>): Promise<string[]> {
  const { stdout } = spawnSync(findFfmpeg(), [
    ...['-loglevel', 'error', '-i', path.join(batch.folder, clip.fileName)],
    ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
  ]);
  const stills: { name: string; rgb: Buffer }[] = [];
  for (const [name, { id, folder }] of Object.entries(from))
    for (const [i, frame] of (await here.frames(id)).entries())
      stills.push({
        name: `${name}${i + 1}`,
        rgb: await sharp(path.join(folder, frame.files[0]!)).removeAlpha().raw().toBuffer(),
      });
  const bytes = stills[0]!.rgb.length;
  return Array.from({ length: stdout.length / bytes }, (_, k) => {
    const shown = stdout.subarray(k * bytes, (k + 1) * bytes);
    const off = stills.map(({ name, rgb }) => ({ name, by: rgb.reduce((sum, v, i) => (i % 3 === 1 ? sum + Math.abs(v - shown[i]!) : sum), 0) }));
    return off.sort((a, b) => a.by - b.by)[0]!.name;
  });
}

const staleOf = async ({ id }: BatchReply): Promise<number[]> => (await call().get(`/api/batches/${id}/clips/stale`)).body as number[];

describe('a reel of several batches', () => {
  it('shows each clip as its revision and variant have it, and is stale when those are rendered otherwise', async () => {
    const set = await here.addSet(file());
    const tall = blockObj([{ name: 'Tower', size: [200, 200, 600] }]).obj;
    const { revisions } = (await call().post(`/api/projects/${here.project.id}/model?unit=mm&up=z`).attach('files', Buffer.from(tall), 'block.obj'))
      .body as ProjectReply;
    const [a, b] = revisions;
    // The newest is not the one with the most renders, and so not the one that is shown.
    const [low, dark, high] = [
      await here.rendered(set, { revision: a!.id }),
      await here.rendered(set, { revision: a!.id, variant: 'dark' }),
      await here.rendered(set, { revision: b!.id }),
    ];
    await here.rendered(set, { revision: a!.id, select: '1' });
    const parts = [{ from: 2, to: 3 }, { revision: a!.letter, from: 1, to: 2 }, { revision: a!.letter, variant: 'dark' }, {}];
    const clip = await made(high, parts);
    expect(await shownIn(high, clip, { low, dark, high })).toEqual([
      ...['high2', 'high3', 'low1', 'low2'],
      ...['dark1', 'dark2', 'dark3', 'high1', 'high2', 'high3'],
    ]);
    expect(await staleOf(high)).toEqual([]);
    // A package has the reel beside the renders, and its audit reads it.
    const pack = await call()
      .post(`/api/sets/${set.id}/packages`)
      .send({ name: 'Cut', renders: [{ batch: high.id, run: 'spin' }] });
    const packed = await until(
      async () => (await call().get(`/api/packages/${(pack.body as PackageReply).id}`)).body as PackageReply,
      ({ state }) => state !== 'making',
    );
    expect([packed.state, packed.faults]).toEqual(['ready', []]);
    const zip = await call().get(`/api/packages/${packed.id}/download`).buffer(true).parse(asBuffer).expect(200);
    const { files } = JSON.parse(Buffer.from(unzipSync(zip.body as Buffer)['manifest.json']!).toString()) as Manifest;
    expect(files.filter((f) => f.kind === 'movie')).toMatchObject([{ path: clip.fileName, type: 'h264', frames: 10, width: 64, height: 36 }]);
    // Out of a batch of the variant, what is not said is as that batch has it: of the other revision there is none.
    expect(await shownIn(dark, await made(dark, [{}, { revision: a!.letter, to: 1 }]), { low, dark, high })).toEqual([
      'dark1',
      'dark2',
      'dark3',
      'dark1',
    ]);
    const refused = await make(dark, [{ revision: b!.letter }]);
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      422,
      expect.stringContaining(`renders of "spin" in the variant "Dark" of revision ${b!.letter}. Render them`),
    ]);
    // Without that batch a clip has no whole take any more.
    await call().delete(`/api/batches/${low.id}`);
    expect(await staleOf(high)).toEqual([clip.id]);
  });

  it('says which clip has no renders, and which revision is not there', async () => {
    const set = await here.addSet(file());
    const batch = await here.rendered(set);
    const refused = async (part: object): Promise<unknown[]> => {
      const { status, body } = await make(batch, [{}, part]);
      return [status, (body as { detail: string }).detail];
    };
    expect(await refused({ variant: 'dark' })).toEqual([
      422,
      expect.stringContaining('No batch of this set has renders of "spin" in the variant "Dark". Render them'),
    ]);
    expect(await refused({ revision: 'Q' })).toEqual([422, expect.stringContaining('There is no revision Q in this project.')]);
    expect((await call().get(`/api/batches/${batch.id}`)).body).toMatchObject({ clips: [] });
  });
});

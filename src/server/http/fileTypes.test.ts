/** Every type of still: written by a batch, read back, shown, and packed with an audit of the files themselves. */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { FrameReply } from '../../contract/batches.js';
import type { PackageReply } from '../../contract/packages.js';
import type { SetFile } from '../../core/plan/set.js';
import { readExr } from '../../formats/exr/read.js';

const here = new BatchesHere();
const call = () => here.server.call();

type Sheet = Pick<SetFile['sheet'], 'files' | 'passes'> & Partial<SetFile['sheet']>;
const still = (sheet: Sheet): SetFile => {
  const plain = here.file(1);
  return { ...plain, sheet: { ...plain.sheet, ...sheet }, shots: [{ id: 'still', kind: 'still', views: [plain.views[0]!.id] }] };
};

async function rendered(sheet: Sheet) {
  const set = await here.addSet(still(sheet));
  // First frames are read back by other readers than wrote them, and hold the batch where something is wrong.
  const batch = await here.rendered(set);
  const [frame] = (await call().get(`/api/batches/${batch.id}/frames`)).body as FrameReply[];
  const at = (name: string): Buffer => readFileSync(path.join(batch.folder, name));
  const bytes = async (what: string): Promise<Buffer> => {
    const reply = await call().get(`/api/batches/${batch.id}/frames/${frame!.id}/${what}`).buffer(true);
    expect([what, reply.status]).toEqual([what, 200]);
    return reply.body as Buffer;
  };
  return { set, batch, files: frame!.files, at, bytes };
}

describe('types of stills', () => {
  it('are all written, read back, shown and packed', async () => {
    const { set, batch, files, at, bytes } = await rendered({
      passes: ['beauty', 'diffuse'],
      files: [{ type: 'tiff', bits: 32 }, { type: 'bmp' }, { type: 'hdr' }, { type: 'exr', bits: 16, split: 'files' }],
    });
    expect(files.map((f) => path.extname(f))).toEqual(['.tif', '.tif', '.bmp', '.bmp', '.hdr', '.hdr', '.exr', '.exr']);
    const [beauty, diffuse] = files.slice(6).map((f) => readExr(at(f)).channels);
    expect([[...beauty!.keys()], [...diffuse!.keys()]]).toEqual([
      ['B', 'G', 'R'],
      ['diffuse.B', 'diffuse.G', 'diffuse.R'],
    ]);
    // The same light in every type that holds light.
    const { data } = await sharp(at(files[0]!))
      .pipelineColourspace('scrgb')
      .toColourspace('scrgb')
      .raw({ depth: 'float' })
      .toBuffer({ resolveWithObject: true });
    const floats = new Float32Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.length));
    expect(Array.from(floats.filter((_, i) => i % 3 === 0))).toEqual(Array.from(beauty!.get('R')!));
    // The page shows the BMP, which is graded.
    const shown = await sharp(await bytes('shown.png')).stats();
    expect(Math.max(...shown.channels.map((c) => c.max))).toBeGreaterThan(30);
    expect((await sharp(await bytes('thumb')).metadata()).format).toBe('webp');
    const made = await call()
      .post(`/api/sets/${set.id}/packages`)
      .send({ name: 'Types', renders: [{ batch: batch.id, run: 'still' }] });
    let now = made.body as PackageReply;
    while (now.state === 'making') now = (await call().get(`/api/packages/${now.id}`)).body as PackageReply;
    expect([now.state, now.faults]).toEqual(['ready', []]);
  });

  it('are shown by the light that was kept where no file of them can be', async () => {
    const { files, bytes } = await rendered({ passes: ['beauty'], files: [{ type: 'hdr' }] });
    expect(files.map((f) => path.extname(f))).toEqual(['.hdr']);
    const shown = await sharp(await bytes('shown.png')).stats();
    expect(Math.max(...shown.channels.map((c) => c.max))).toBeGreaterThan(30);
    expect((await sharp(await bytes('thumb')).metadata()).format).toBe('webp');
  });

  it('hold several passes in parts of one file', async () => {
    const { files, at, bytes } = await rendered({ passes: ['beauty', 'depth', 'parts'], files: [{ type: 'exr', bits: 32, split: 'parts' }] });
    expect(files).toHaveLength(1);
    const { channels, texts } = readExr(at(files[0]!));
    expect([...channels.keys()]).toEqual(expect.arrayContaining(['R', 'depth.Z', 'parts00.R']));
    expect(Object.keys(texts)).toEqual(expect.arrayContaining(['frame/identity', expect.stringMatching(/^cryptomatte\/.*\/manifest$/)]));
    for (const pass of ['beauty', 'depth', 'parts'])
      expect((await sharp(await bytes(`shown.png?pass=${pass}`)).metadata()).width).toBe(still({ passes: [], files: [] }).sheet.size.width);
  });

  it('say before a start what they cannot hold', async () => {
    const refused = async (sheet: Sheet): Promise<unknown> => {
      const set = await here.addSet(still(sheet));
      const reply = await call().post(`/api/sets/${set.id}/batches`).send({ revision: here.revision });
      return [reply.status, (reply.body as { detail: string }).detail];
    };
    const hdr = { files: [{ type: 'hdr' as const }] };
    expect(await refused({ ...hdr, passes: ['beauty', 'normal'] })).toEqual([
      422,
      expect.stringContaining('Radiance HDR holds light alone, and no normal; choose OpenEXR, or remove the pass.'),
    ]);
    expect(await refused({ passes: ['beauty'], files: [{ type: 'tiff', bits: 32, compression: 'lzw' }] })).toEqual([
      422,
      expect.stringContaining('TIFF of floats has no LZW; choose Deflate or no compression.'),
    ]);
    expect(await refused({ ...hdr, passes: ['beauty'], alpha: true })).toEqual([422, expect.stringContaining('Radiance HDR has no alpha')]);
  });
});

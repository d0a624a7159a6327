/** What there is to judge of a set: the newest of each shot by batch, with what was said of it and what changed since. */
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { FrameReply } from '../../contract/batches.js';
import type { SetReply } from '../../contract/contract.js';
import type { ComparisonReply, ResultReply, StaleReply } from '../../contract/results.js';
import { asBuffer } from '../../../tests/support/asBuffer.js';
import { unzipSync } from 'fflate';
import path from 'node:path';
import { getDocument, OPS } from 'pdfjs-dist/legacy/build/pdf.mjs';
import sharp from 'sharp';
import { encodeTable3d, tableFrom } from '../../core/image/colourTable.js';
import { gradeSchema } from '../../core/image/grade.js';
import type { PassId } from '../../core/image/passes.js';
import { prepareLight, readLight } from '../../web/grade/gradedLight.js';
import { halfDecoder } from '../../core/image/half.js';
import { materialAssignmentsSchema } from '../../core/materials/assignments.js';
import { customMaterialSchema } from '../../core/materials/customMaterial.js';
import { gradedFields, withGrade } from '../../core/plan/grading.js';
import { parseSet, type SetFile } from '../../core/plan/set.js';
import { shotSchema } from '../../core/shots/kinds.js';
import { LightGrader } from '../../engine/grade/lightGrader.js';
import { loadKernelModule } from '../../engine/node/assets.js';

const here = new BatchesHere();
const call = () => here.server.call();
const results = async (set: SetReply): Promise<ResultReply[]> => (await call().get(`/api/sets/${set.id}/results`).expect(200)).body as ResultReply[];
const stale = async (set: SetReply, revision = here.project.revisions[0]!.id): Promise<StaleReply> =>
  (await call().get(`/api/sets/${set.id}/stale?revision=${revision}`).expect(200)).body as StaleReply;

/** A turntable of three frames and a still of two views. */
function withStill(): SetFile {
  const plain = here.file(3);
  const [view] = plain.views;
  return {
    ...plain,
    views: [view!, { ...view!, id: 'side', name: 'Side' }],
    shots: [...plain.shots, shotSchema.parse({ id: 'stills', kind: 'still', views: [view!.id, 'side'] })],
  };
}

describe('results of a set', () => {
  it('are a moving shot as one, and of a still each view; newest batch first', async () => {
    const set = await here.addSet(withStill());
    expect(await results(set)).toEqual([]);
    const first = await here.rendered(set, { select: 'spin: 1-2; stills: all' });
    const second = await here.rendered(set, { shots: ['spin'] });
    const list = await results(set);
    const view = here.file(3).views[0]!.id;
    expect(list.map((r) => [r.batch, r.run, r.view, r.nth, r.done, r.total])).toEqual([
      [second.id, 'spin', '', 0, 3, 3],
      [first.id, 'spin', '', 0, 2, 2],
      [first.id, 'stills', view, 1, 1, 1],
      [first.id, 'stills', 'side', 1, 1, 1],
    ]);
    expect(list[0]).toMatchObject({ revision: 'A', kind: 'turntable', size: here.file(3).sheet.size, accepted: 0, redo: 0 });
    expect(list[2]!.kind).toBe('still');
    const frames = await here.frames(first.id);
    expect(list[1]!.cover).toBe(frames.find((f) => f.shot === 'spin')!.id);
    // Of one run alone, in pages.
    const own = (await call().get(`/api/batches/${first.id}/frames?run=stills&from=1`).expect(200)).body as FrameReply[];
    expect(own.map((f) => [f.shot, f.view])).toEqual([['stills', 'side']]);
  });

  it('count what was said of their frames, and do not count what failed or is gone', async () => {
    const set = await here.addSet(here.file(3));
    const batch = await here.rendered(set);
    const frames = await here.frames(batch.id);
    for (const [i, decision] of (['accepted', 'accepted', 'redo'] as const).entries())
      await call().put(`/api/batches/${batch.id}/frames/${frames[i]!.id}/decision`).send({ decision }).expect(200);
    expect((await results(set))[0]).toMatchObject({ accepted: 2, redo: 1, done: 3 });
    await call().delete(`/api/batches/${batch.id}`);
    expect(await results(set)).toEqual([]);
    expect(await stale(set)).toEqual([]);
  });

  it('are stale where the set of today would render them otherwise, with what changed', async () => {
    const file = withStill();
    const set = await here.addSet(file);
    const batch = await here.rendered(set);
    expect(await stale(set)).toEqual([]);
    const [spin, stills] = file.shots;
    const views = file.views.map((v) => (v.id === 'side' ? { ...v, eye: [3, 2, 1] } : v)) as SetFile['views'];
    await here.save(set, { ...file, views, shots: [{ ...spin!, frames: 2 } as typeof spin & object, stills!] as SetFile['shots'] });
    const side = (await here.frames(batch.id)).find((f) => f.view === 'side')!.id;
    const list = await stale(set);
    expect(list).toContainEqual({ batch: batch.id, run: 'stills', stale: 1, unplanned: 0, grounds: ['camera'], frames: [side] });
    // Two steps of 180° instead of three of 120°: the second is another angle, the third is none.
    expect(list).toContainEqual({ batch: batch.id, run: 'spin', stale: 1, unplanned: 1, grounds: ['turn or shutter'] });
    await call().get(`/api/sets/${set.id}/stale`).expect(400);
    await call().get('/api/sets/987654/results').expect(404);
  });

  it('tell drafts apart, and are never stale as such', async () => {
    const set = await here.addSet(here.file(2));
    await here.rendered(set, { draft: { size: 0.5, samples: 0.5 } });
    expect((await results(set))[0]).toMatchObject({ draft: { size: 0.5, samples: 0.5 } });
    await here.save(set, here.file(3));
    expect(await stale(set)).toEqual([]);
  });
});

describe('two finished renders', () => {
  const compared = async (first: number, second: number, more = ''): Promise<ComparisonReply> =>
    (await call().get(`/api/compare?first=${first}&second=${second}${more}`).expect(200)).body as ComparisonReply;

  it('differ where a material changed, by the name of its part, and nowhere else', async () => {
    const plain = { ...here.file(2, 16), sheet: { ...here.file(2, 16).sheet, size: { width: 192, height: 108 } } };
    const red = customMaterialSchema.parse({ name: 'Red', colour: '#aa2211', roughness: 0.5 });
    const set = await here.addSet(plain);
    const first = await here.frames((await here.rendered(set)).id);
    await here.save(set, { ...plain, materials: materialAssignmentsSchema.parse({ parts: [{ path: 'Lid', material: 'Red' }], materials: [red] }) });
    const second = await here.frames((await here.rendered(set)).id);
    const same = await compared(first[0]!.id, first[0]!.id);
    expect(same).toMatchObject({ changed: 0, ssim: 1, areas: 0, parts: [], width: 192, height: 108 });
    const other = await compared(first[0]!.id, second[0]!.id);
    expect(other.changed).toBeGreaterThan(0.01);
    expect(other.changed).toBeLessThan(0.6);
    expect(other.largest).toBeGreaterThan(10);
    expect(other.parts[0]).toMatchObject({ path: 'Lid', presence: 'both' });
    // The same on paper, read by another library.
    const shots = [{ name: 'Spin, frame 1', first: first[0]!.id, second: second[0]!.id }];
    const pdf = await call()
      .post(`/api/sets/${set.id}/changes-sheet`)
      .send({ sides: ['before', 'after'], shots })
      .buffer(true)
      .expect(200);
    expect(pdf.headers['content-type']).toBe('application/pdf');
    const page = await (await getDocument({ data: new Uint8Array(pdf.body as Buffer), useSystemFonts: false }).promise).getPage(1);
    const words = (await page.getTextContent()).items.map((i) => ('str' in i ? i.str : '')).join(' ');
    for (const said of [
      'Spin, frame 1',
      'before',
      'after',
      'Lid',
      `${(100 * other.changed).toFixed(1)} % of the area changed`,
      `SSIM ${other.ssim.toFixed(3)}`,
    ])
      expect(words).toContain(said);
    const images = (await page.getOperatorList()).fnArray.filter((f) => f === OPS.paintImageXObject).length;
    expect(images).toBe(2);
    // As one page of HTML, as an image, and as images of several pages in a ZIP.
    const sheetAs = async (type: string, of: object[]) =>
      call()
        .post(`/api/sets/${set.id}/changes-sheet`)
        .send({ sides: ['before', 'after'], shots: of, type })
        .buffer(true)
        .parse(asBuffer)
        .expect(200);
    const html = await sheetAs('html', shots);
    expect(html.headers['content-type']).toMatch(/^text\/html/);
    expect((html.body as Buffer).toString()).toContain(`${(100 * other.changed).toFixed(1)} % of the area changed`);
    const png = await sheetAs('png', shots);
    expect([png.headers['content-type'], (await sharp(png.body as Buffer).metadata()).density]).toEqual(['image/png', 150]);
    const many = Array.from({ length: 12 }, () => shots[0]!);
    const zip = await sheetAs('png', many);
    expect(zip.headers['content-type']).toBe('application/zip');
    expect(
      Object.keys(unzipSync(zip.body as Buffer))
        .sort()
        .slice(0, 2),
    ).toEqual(['1.png', '2.png']);
    await call()
      .post(`/api/sets/${set.id}/changes-sheet`)
      .send({ sides: ['a', 'b'], shots: [] })
      .expect(400);
    await call()
      .post(`/api/sets/${set.id}/changes-sheet`)
      .send({ sides: ['a', 'b'], shots: [{ name: 'x', first: 999_999, second: 1 }] })
      .expect(404);
    // A higher threshold leaves less.
    expect((await compared(first[0]!.id, second[0]!.id, '&threshold=20')).changed).toBeLessThan(other.changed);
    await call().get(`/api/compare?first=${first[0]!.id}&second=987654`).expect(404);
    await call().get(`/api/compare?first=${first[0]!.id}`).expect(400);
    await call().get(`/api/compare?first=1&second=2&threshold=0`).expect(400);
  });

  it('are shown pass by pass, also where there is only OpenEXR, as their PNG are', async () => {
    const passes: SetFile['sheet']['passes'] = ['beauty', 'depth', 'parts'];
    const file = (files: SetFile['sheet']['files']): SetFile => ({ ...here.file(1), sheet: { ...here.file(1).sheet, passes, files } });
    const png = await here.addSet(file([{ type: 'png', bits: 8 }]));
    const exr = await here.addSet(file([{ type: 'exr', bits: 16 }]));
    const [a, b] = [await here.rendered(png), await here.rendered(exr, { anew: true })];
    const [own, only] = [(await here.frames(a.id))[0]!, (await here.frames(b.id))[0]!];
    expect(only.files).toEqual([expect.stringMatching(/\.exr$/)]);
    const pixels = async (batch: number, frame: number, pass: string): Promise<Buffer> => {
      const reply = await call().get(`/api/batches/${batch}/frames/${frame}/shown.png?pass=${pass}`).buffer(true).expect(200);
      return sharp(reply.body as Buffer)
        .removeAlpha()
        .raw()
        .toBuffer();
    };
    for (const pass of passes) {
      const [x, y] = [await pixels(a.id, own.id, pass), await pixels(b.id, only.id, pass)];
      expect(y.length).toBe(x.length);
      // Display values are rounded once more.
      expect(Math.max(...x.map((v, i) => Math.abs(v - y[i]!)))).toBeLessThanOrEqual(1);
      expect(new Set(x).size).toBeGreaterThan(1);
    }
    const refused = await call().get(`/api/batches/${a.id}/frames/${own.id}/shown.png?pass=normal`).expect(404);
    expect((refused.body as { detail: string }).detail).toContain('has no normal; it was rendered with beauty, depth, part mattes.');
    // The wall has a small picture of it, and knows its passes.
    const thumb = await call().get(`/api/batches/${b.id}/frames/${only.id}/thumb`).buffer(true).expect(200);
    expect(await sharp(thumb.body as Buffer).metadata()).toMatchObject({ format: 'webp', width: 64, height: 36 });
    expect((await results(exr))[0]!.passes).toEqual(passes);
    // Two files of light alone compare as well.
    expect(await compared(own.id, only.id)).toMatchObject({ changed: 0 });
  });

  it.each([
    ['exposure, white and glare', {}, { exposure: 0.7, whiteBalance: 5200, glow: { strength: 0.3, reach: 0.05 } }],
    [
      'a mix, fog, levels, contrast, saturation and a table, over a clear backdrop and under lines of another weight and colour',
      { passes: ['beauty', 'diffuse', 'specular', 'occlusion', 'depth'], alpha: true, lines: { width: 1.5, colour: '#a62c49' } },
      {
        exposure: -0.4,
        lines: { width: 4.5, colour: '#2c49a6' },
        mix: { diffuse: 1.3, specular: 0.4, occlusion: 0.8, fog: { colour: '#b0c0d0', start: 1, half: 2 } },
        levels: { black: 0.05, white: 0.9, gamma: 1.2 },
        contrast: 1.3,
        saturation: 1.4,
        table: { name: 'squares', side: 9, share: 0.6, values: encodeTable3d(tableFrom(9, (rgb) => rgb.set([...rgb].map((v) => v * v)))) },
      },
    ],
    ['unfiltered noise', { quality: { samples: 8, denoise: true } }, { denoise: false }],
    ['filtered noise', { quality: { samples: 8, denoise: false } }, { denoise: true, exposure: 0.5 }],
  ])('give their light to be graded by %s, and come out as files written again of it', async (_what, sheet, values) => {
    const plain = here.file(1);
    const set = await here.addSet({ ...plain, sheet: { ...plain.sheet, size: { width: 96, height: 54 }, ...sheet } } as SetFile);
    const first = await here.rendered(set);
    const [frame] = await here.frames(first.id);
    const grade = gradeSchema.parse(values);
    const { lines, sampling } = gradedFields(parseSet(set.file).sheet, grade);
    const address = `/api/batches/${first.id}/frames/${frame!.id}/linear?mix=diffuse,specular,occlusion,depth&denoise=${sampling.denoise}`;
    const { headers, body } = await call().get(address).buffer(true).responseType('blob').expect(200);
    const told = headers as Record<string, string>;
    const bytes = body as Buffer;
    const numbers = halfDecoder()(new Uint16Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length)));
    const size = { width: Number(told['x-width']), height: Number(told['x-height']), reduced: Number(told['x-reduced']) };
    expect(size).toEqual({ width: 96, height: 54, reduced: 1 });
    const light = readLight(size, told['x-passes']!.split(',') as PassId[], numbers);
    const { colour, exposed } = prepareLight(light, grade, lines ?? null);
    const grader = new LightGrader(loadKernelModule());
    grader.load(colour, light.planes.alpha ?? null);
    const seen = grader.grade(grade, exposed);
    const { file, version } = (await call().get(`/api/sets/${set.id}`)).body as SetReply;
    await call()
      .put(`/api/sets/${set.id}`)
      .send({ version, file: { ...file, grade } })
      .expect(200);
    const again = await here.rendered(set);
    expect(again).toMatchObject({ developed: 1 });
    const [written] = await here.frames(again.id);
    const png = await sharp(path.join(again.folder, written!.files[0]!)).ensureAlpha().raw().toBuffer();
    expect(png.length).toBe(seen.length);
    // Where nothing is seen, colour does not count.
    expect(Math.max(...png.map((v, i) => (png[i | 3] === 0 ? 0 : Math.abs(v - seen[i]!))))).toBeLessThanOrEqual(1);
    expect(new Set(png).size).toBeGreaterThan(20);
    const before = await sharp(path.join(first.folder, frame!.files[0]!)).ensureAlpha().raw().toBuffer();
    expect(Math.max(...png.map((v, i) => Math.abs(v - before[i]!)))).toBeGreaterThan(10);
  });

  it('of a view with a grade of its own have that one, by its name, and no other view has', async () => {
    const plain = withStill();
    const set = await here.addSet(plain);
    const first = await here.rendered(set, { shots: ['stills'] });
    const grade = gradeSchema.parse({ exposure: 2 });
    await call().post('/api/presets').send({ kind: 'grade', name: 'Bright side', body: grade }).expect(201);
    await here.save(set, withGrade(plain, { shot: 'stills', view: 'side' }, 'view', grade));
    const again = await here.rendered(set, { shots: ['stills'] });
    expect(again).toMatchObject({ total: 2, developed: 1, takenOver: 1 });
    const looks = (await here.frames(again.id)).map((f) => [f.view, f.look, f.developed ?? null]);
    expect(looks).toEqual([
      [plain.views[0]!.id, undefined, null],
      ['side', 'Bright side', 'exact'],
    ]);
    const mean = async (of: { folder: string; id: number }): Promise<number> =>
      (await sharp(path.join(of.folder, (await here.frames(of.id))[1]!.files[0]!)).stats()).channels[0]!.mean;
    expect(await mean(again)).toBeGreaterThan((await mean(first)) + 5);
  });

  it('of a shot with a grade of its own have that one, and no other shot has', async () => {
    const plain = withStill();
    const set = await here.addSet({
      ...plain,
      shots: plain.shots.map((s) => (s.id === 'spin' ? { ...s, grade: gradeSchema.parse({ exposure: 2 }) } : s)),
    });
    const batch = await here.rendered(set);
    await here.save(set, plain);
    const again = await here.rendered(set);
    // The turntable alone is developed anew; the stills are there.
    expect(again).toMatchObject({ total: 5, developed: 3, takenOver: 2 });
    const mean = async (of: { folder: string; id: number }): Promise<number> => {
      const [frame] = await here.frames(of.id);
      return (await sharp(path.join(of.folder, frame!.files[0]!)).stats()).channels[0]!.mean;
    };
    expect(await mean(batch)).toBeGreaterThan((await mean(again)) + 5);
  });
});

/** Frames whose light is there already: developed of masters, which are kept within a budget. */
import { existsSync, readdirSync, readFileSync, rmSync, truncateSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { BatchReply } from '../../contract/batches.js';
import type { BatchReport, MastersReply } from '../../contract/queue.js';
import { gradeSchema } from '../../core/image/grade.js';
import type { SetFile } from '../../core/plan/set.js';
import { BatchFrame, Master } from '../db/models.js';

const here = new BatchesHere();
const sheetOf = (file: SetFile, sheet: Partial<SetFile['sheet']>): SetFile => ({ ...file, sheet: { ...file.sheet, ...sheet } });
/** With the quality of another file, otherwise as it is. */
const filtered = (file: SetFile, denoise: boolean): SetFile => ({
  ...file,
  sheet: { ...file.sheet, quality: { ...(file.sheet.quality as object), denoise } as SetFile['sheet']['quality'] },
});
const graded = (file: SetFile, exposure: number): SetFile => ({ ...file, grade: { ...file.grade, exposure } });

const use = async (): Promise<MastersReply> => (await here.server.call().get('/api/masters')).body as MastersReply;
async function bytesOf(batch: BatchReply): Promise<Buffer[]> {
  return (await here.frames(batch.id)).flatMap((f) => f.files.map((name) => readFileSync(path.join(batch.folder, name))));
}
const masterFiles = (): string[] =>
  readdirSync(path.join(here.server.running.context.store.root, 'masters'), { recursive: true })
    .map(String)
    .filter((f) => f.endsWith('.exr'));

/** Counts frames that are rendered from now on. */
function countRendered(): () => number {
  let count = 0;
  here.before(() => void count++);
  return () => count;
}

describe('a change of grade or file type', () => {
  it('is developed of what was traced, to the bytes of a render, and says so before', async () => {
    const set = await here.addSet(here.file(4));
    await here.rendered(set);
    await here.save(
      set,
      sheetOf(graded(here.file(4), 1.5), {
        files: [
          { type: 'jpeg', quality: 92 },
          { type: 'exr', bits: 16 },
        ],
      }),
    );
    expect(await here.changes(set)).toMatchObject({ total: 4, toRender: 0, toDevelop: 4, takenOver: 0 });
    const rendered = countRendered();
    const developed = await here.rendered(set);
    expect([developed.done, developed.developed, rendered()]).toEqual([4, 4, 0]);
    const frames = await here.frames(developed.id);
    expect(frames.map((f) => [f.developed, f.seconds, f.files.length])).toEqual(frames.map(() => ['exact', null, 2]));
    const anew = await here.rendered(set, { anew: true });
    expect([anew.developed, rendered()]).toEqual([0, 4]);
    const [a, b] = [await bytesOf(developed), await bytesOf(anew)];
    a.forEach((bytes, i) => expect(bytes.equals(b[i]!)).toBe(true));
    // Such files are as good as rendered ones: they are reused.
    expect(await here.rendered(set)).toMatchObject({ takenOver: 4, developed: 0 });
  });

  it('tells by which named grade and of which master each frame was made', async () => {
    const warm = gradeSchema.parse({ exposure: 1.25, saturation: 0.8 });
    await here.server.call().post('/api/presets').send({ kind: 'grade', name: 'Warm evening', body: warm }).expect(201);
    const file = here.file(2);
    const set = await here.addSet(file);
    const traced = await here.rendered(set);
    const own = { ...file.shots[0]!, id: 'plain', grade: file.grade };
    await here.save(set, { ...file, grade: warm, shots: [file.shots[0]!, own] });
    const developed = await here.rendered(set);
    expect((await here.frames(developed.id)).map((f) => [f.shot, f.look])).toEqual([
      ['spin', 'Warm evening'],
      ['spin', 'Warm evening'],
      ['plain', undefined],
      ['plain', undefined],
    ]);
    // The name is that of when the batch was started, whatever becomes of the preset.
    const [preset] = ((await here.server.call().get('/api/presets')).body as { id: number; name: string }[]).filter((p) => p.name === 'Warm evening');
    await here.server.call().delete(`/api/presets/${preset!.id}`).expect(200);
    const report = async (id: number): Promise<BatchReport> =>
      (await here.server.call().get(`/api/batches/${id}/report`).expect(200)).body as BatchReport;
    const [before, after] = [await report(traced.id), await report(developed.id)];
    expect(after.frames.slice(0, 2).map((f) => [f.developed, f.look, f.master])).toEqual(
      before.frames.map((f) => ['exact', 'Warm evening', f.master]),
    );
    expect(before.frames.every((f) => f.look === undefined && /^[0-9a-f]{16,}/.test(f.master ?? ''))).toBe(true);
    const page = await here.server.call().get(`/api/batches/${developed.id}/report.html`).expect(200);
    expect(page.text).toContain('developed, grade Warm evening');
  });

  it('is developed within a batch whose frames have the same light', async () => {
    // More than are in work at a time.
    const file = here.file(10);
    const other = { ...file.shots[0]!, id: 'again', overrides: { files: [{ type: 'jpeg' as const, quality: 90 }] } };
    const set = await here.addSet({ ...file, shots: [file.shots[0]!, other] });
    const rendered = countRendered();
    const batch = await here.rendered(set);
    expect(batch.done).toBe(20);
    expect(rendered() + batch.developed).toBe(20);
    expect(batch.developed).toBeGreaterThan(0);
  });

  it('puts the filter on or off afterwards, near to what a render has, and such files are not reused', async () => {
    const [on, off] = [filtered(here.file(1, 64), true), filtered(here.file(1, 64), false)];
    const set = await here.addSet(on);
    const first = await here.rendered(set);
    for (const [to, asked] of [
      [off, 'off'],
      [on, 'on'],
    ] as const) {
      await here.save(set, to);
      // A render of this kind, whose master then is the one that the next is developed of.
      const want = asked === 'on' ? first : await here.rendered(set, { anew: false });
      if (asked === 'off') expect((await here.frames(want.id))[0]).toMatchObject({ developed: 'refiltered' });
    }
    await here.save(set, off);
    expect((await here.changes(set)).toDevelop).toBe(1);
    const traced = await here.rendered(set, { anew: true });
    await here.save(set, on);
    // Its own render is there still.
    expect(await here.rendered(set)).toMatchObject({ takenOver: 1 });
    const graderOn = graded(on, 0.5);
    await here.save(set, graderOn);
    const refiltered = await here.rendered(set);
    expect((await here.frames(refiltered.id))[0]).toMatchObject({ developed: 'refiltered' });
    expect(await here.changes(set)).toMatchObject({ toDevelop: 1, takenOver: 0 });
    const direct = await here.rendered(set, { anew: true });
    const pixels = async (batch: BatchReply): Promise<Buffer> =>
      sharp((await bytesOf(batch))[0])
        .removeAlpha()
        .raw()
        .toBuffer();
    const [x, y, noisy] = [await pixels(refiltered), await pixels(direct), await pixels(traced)];
    const apart = (p: Buffer, q: Buffer): number => Math.sqrt(p.reduce((s, v, i) => s + (v - q[i]!) ** 2, 0) / p.length);
    expect(apart(x, y)).toBeLessThan(4);
    expect(apart(x, y)).toBeLessThan(apart(noisy, y));
  });
});

describe('masters', () => {
  it('are found damaged or gone, and the frame is rendered', async () => {
    const set = await here.addSet(here.file(2));
    await here.rendered(set);
    await here.save(set, graded(here.file(2), 1));
    const keys = (await Master.findAll({ order: [['id', 'DESC']], limit: 2 })).map((m) => here.server.running.context.masters.file(m.key));
    truncateSync(keys[0]!, 100);
    rmSync(keys[1]!);
    const rendered = countRendered();
    const batch = await here.rendered(set);
    expect([batch.done, batch.developed, rendered()]).toEqual([2, 0, 2]);
    expect(keys.map(existsSync)).toEqual([true, true]);
    await here.save(set, graded(here.file(2), 2));
    expect(await here.rendered(set)).toMatchObject({ developed: 2 });
  });

  it('are none of stills that were ended early, and of quick renders', async () => {
    const before = (await use()).count;
    const file = here.file(2);
    const set = await here.addSet({ ...file, sheet: { ...file.sheet, quality: 'quick' } });
    await here.rendered(set);
    expect((await use()).count).toBe(before);
  });

  it('go within the budget, the longest unused first, and accepted ones never', async () => {
    const { masters } = here.server.running.context;
    const set = await here.addSet(here.file(6));
    const first = await here.rendered(set);
    const [one] = await here.frames(first.id);
    await here.server.call().put(`/api/batches/${first.id}/frames/${one!.id}/decision`).send({ decision: 'accepted' });
    const { bytes, count, acceptedBytes } = await use();
    expect([count >= 6, acceptedBytes > 0, acceptedBytes < bytes]).toEqual([true, true, true]);
    const files = masterFiles().length;
    expect(files).toBe(count);
    const setBudget = (to: number): void => void ((masters as { budget: number }).budget = to);
    const own = (await Master.findAll({ order: [['id', 'DESC']], limit: 6 })).reverse();
    const { masterKey } = (await BatchFrame.findByPk(one!.id))!;
    const accepted = own.find((m) => m.key === masterKey)!;
    const newest = own.filter((m) => m !== accepted).slice(-2);
    // Room for the accepted one, two more, and no further one.
    setBudget(acceptedBytes + newest[0]!.bytes + newest[1]!.bytes);
    expect(await masters.makeRoom(0)).toBe(true);
    const left = await Master.findAll({ order: ['id'] });
    expect(left.map((m) => m.id)).toEqual([accepted, ...newest].map((m) => m.id).sort((a, b) => a - b));
    expect(masterFiles().length).toBe(3);
    await here.save(set, graded(here.file(6), 1));
    expect(await here.changes(set)).toMatchObject({ toDevelop: 3, toRender: 3 });
    // Nothing may go: what is new is not kept, and the batch is whole.
    setBudget(acceptedBytes);
    expect(await here.rendered(set)).toMatchObject({ done: 6 });
    expect((await Master.findAll()).map((m) => m.id)).toEqual([accepted.id]);
    expect((await use()).bytes).toBe(acceptedBytes);
    setBudget(0);
    await here.rendered(set, { anew: true });
    expect((await use()).count).toBe(1);
    setBudget(20 * 2 ** 30);
  });

  it('of many frames that are kept at the same moment stay within the budget, and rows and files agree', async () => {
    const { masters } = here.server.running.context;
    const set = await here.addSet(here.file(3));
    await here.rendered(set);
    const [largest] = await Master.findAll({ order: [['bytes', 'DESC']], limit: 1 });
    (masters as { budget: number }).budget = 4 * largest!.bytes;
    const frame = { identity: 'i', sampling: { denoise: true }, files: [] } as unknown as Parameters<typeof masters.keep>[1];
    const bytes = new Uint8Array(largest!.bytes);
    const keys = Array.from({ length: 12 }, (_, i) => String(i % 8).repeat(64));
    await Promise.all(keys.map((key) => masters.keep(key, frame, 4, bytes, 'sum')));
    const used = await use();
    expect(used.bytes).toBeLessThanOrEqual(used.budget);
    expect(used.count).toBeGreaterThan(2);
    expect(
      masterFiles()
        .map((f) => path.basename(f, '.exr'))
        .sort(),
    ).toEqual((await Master.findAll()).map((m) => m.key).sort());
    (masters as { budget: number }).budget = 20 * 2 ** 30;
    await Promise.all((await Master.findAll()).map((m) => masters.drop(m)));
    expect(masterFiles()).toEqual([]);
  });

  it('are set right at a start: files without a row go to the trash, rows without a file go', async () => {
    const set = await here.addSet(here.file(2));
    await here.rendered(set);
    const { masters, store } = here.server.running.context;
    const [last] = await Master.findAll({ order: [['id', 'DESC']], limit: 1 });
    const stray = 'f'.repeat(64);
    await store.write(masters.file(stray), Buffer.from('stray'));
    rmSync(masters.file(last!.key));
    await masters.tidy();
    expect(await Master.findByPk(last!.id)).toBeNull();
    expect(existsSync(masters.file(stray))).toBe(false);
    expect(masterFiles().length).toBe((await use()).count);
    const trash = readdirSync(path.join(here.server.running.context.store.root, 'trash'), { recursive: true }).map(String);
    expect(trash.some((f) => f.endsWith(`${stray}.exr`))).toBe(true);
  });
});

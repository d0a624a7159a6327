/** What sets are foreseen to cost, what of it is kept, and what a batch learns from it. */
import { longTest } from '../../../tests/support/long.js';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import type { BatchReply, FrameReply } from '../../contract/batches.js';
import type { ProjectReply, SetReply } from '../../contract/contract.js';
import type { ForecastReply } from '../../contract/forecast.js';
import type { PreflightReply } from '../../contract/preflight.js';
import { customQualitySchema } from '../../core/frame/settings.js';
import { applyPatch } from '../../core/preflight/patch.js';
import type { SetFile } from '../../core/plan/set.js';

const server = new ServerHere();
let project: ProjectReply;
beforeAll(async () => {
  await server.start();
  project = await server.blockProject('Block', '?unit=mm&up=z');
});
afterAll(() => server.end());

const revision = (): number => project.revisions[0]!.id;
const undenoised = (samples: number): SetFile['sheet']['quality'] => customQualitySchema.parse({ samples, denoise: false });
const plan = (sheet: Partial<SetFile['sheet']> = {}): SetFile => {
  const file = spin(6);
  return { ...file, sheet: { ...file.sheet, size: { width: 960, height: 540 }, quality: undenoised(64), ...sheet } };
};
const ask = async (set: SetReply, more = ''): Promise<ForecastReply> =>
  (await server.call().get(`/api/sets/${set.id}/forecast?revision=${revision()}${more}`)).body as ForecastReply;

/** What an address answers, as it is. */
async function bytesOf(path: string): Promise<Buffer> {
  const reply = await server
    .call()
    .get(`/api/${path}`)
    .buffer(true)
    .parse((response, done) => {
      const parts: Buffer[] = [];
      response.on('data', (part: Buffer) => parts.push(part));
      response.on('end', () => done(null, Buffer.concat(parts)));
    });
  return reply.body as Buffer;
}

/** Renders of the pool while something is done. */
async function rendersOf(act: () => Promise<unknown>): Promise<number> {
  const render = vi.spyOn(server.running.context.pool, 'render');
  await act();
  const count = render.mock.calls.length;
  render.mockRestore();
  return count;
}

describe('a forecast', () => {
  it('tells time, range and bytes, of the set and of each shot', async () => {
    const reply = await ask(await server.addSet(project, plan()));
    expect(reply).toMatchObject({ frames: 6, tried: 6, learntFrom: 0 });
    const { low, likely, high } = reply.seconds;
    expect(low).toBeGreaterThan(0);
    expect(likely).toBeGreaterThan(low);
    expect(high).toBeGreaterThan(likely);
    expect(reply.runs).toMatchObject([{ run: 'spin', frames: 6 }]);
    expect(reply.files).toMatchObject([{ file: 'png beauty' }]);
    expect(reply.files[0]!.bytes).toBeCloseTo(reply.bytes, 3);
    expect(reply.free).toBeGreaterThan(0);
    expect(reply.choices).toBeUndefined();
  });

  it('makes trials once: neither again, nor for more samples or a larger picture', async () => {
    const set = await server.addSet(project, plan());
    const once = await ask(set);
    expect(await rendersOf(() => ask(set))).toBe(0);
    const finer = await server.addSet(project, plan({ quality: undenoised(256) }));
    const larger = await server.addSet(project, plan({ size: { width: 1920, height: 1080 } }));
    const renders = await rendersOf(async () => {
      // Four times the samples, and four times the pixels.
      expect((await ask(finer)).parts.bySample / once.parts.bySample).toBeCloseTo(4, 6);
      expect((await ask(larger)).parts.byPixel / once.parts.byPixel).toBeCloseTo(4, 6);
    });
    expect(renders).toBe(0);
  });

  it('is of the chosen frames alone', async () => {
    const set = await server.addSet(project, plan());
    expect((await ask(set, '&select=2-4')).frames).toBe(3);
    const reply = await server.call().get(`/api/sets/${set.id}/forecast?revision=${revision()}&select=every`);
    expect(reply.status).toBe(422);
    expect((reply.body as { detail: string }).detail).toContain('"every" is not a frame selection');
  });

  it('offers changes where the time is short, which do what they say', async () => {
    const file = plan();
    const set = await server.addSet(project, file);
    const { seconds } = await ask(set);
    const { choices } = await ask(set, `&within=${(seconds.likely * 0.6).toFixed(3)}`);
    expect(choices!.map((c) => c.kind)).toEqual(['samples', 'denoise', 'size', 'frames']);
    const fewer = choices!.find((c) => c.kind === 'samples')!;
    expect(fewer.meets).toBe(true);
    const changed = await ask(await server.addSet(project, applyPatch(file, fewer.patch!)));
    expect(changed.seconds.likely / fewer.seconds.likely).toBeCloseTo(1, 3);
    expect((await ask(set, `&within=${(seconds.likely * 2).toFixed(3)}`)).choices).toEqual([]);
  });

  longTest('shows a part of the picture that a change would give', async () => {
    const set = await server.addSet(project, plan());
    const picture = async (samples: number, scale: number) =>
      bytesOf(`sets/${set.id}/choice.webp?revision=${revision()}&run=spin&number=1&samples=${samples}&scale=${scale}&denoise=false`);
    const sizeOf = async (samples: number, scale: number) => {
      const { width, height } = await sharp(await picture(samples, scale)).metadata();
      return [width, height];
    };
    expect(await sizeOf(1, 1)).toEqual([240, 135]);
    // Half the size is shown as large.
    expect((await sizeOf(1, 0.5))[0]).toBe(240);
    // Of a sixteenth of the samples it has more noise: more bytes.
    const [all, few] = [await picture(1, 1), await picture(1 / 16, 1)];
    expect(few.length).toBeGreaterThan(1.1 * all.length);
    const lost = await server.call().get(`/api/sets/${set.id}/choice.webp?revision=${revision()}&run=walk&number=1&samples=1&scale=1&denoise=false`);
    expect(lost.status).toBe(404);
  });

  it('shows the middle of the frame, pixel for pixel', async () => {
    const set = await server.addSet(project, plan({ size: { width: 260, height: 155 } }));
    const shown = await bytesOf(`sets/${set.id}/choice.webp?revision=${revision()}&run=spin&number=1&samples=1&scale=1&denoise=false`);
    const whole = await bytesOf(`sets/${set.id}/test-frame.png?revision=${revision()}&run=spin&number=1&scale=1&token=t`);
    const part = await sharp(shown).raw().toBuffer();
    /** Mean difference of the channels from the part of the whole that begins there. */
    const difference = async (left: number, top: number): Promise<number> => {
      const other = await sharp(whole).extract({ left, top, width: 240, height: 135 }).removeAlpha().raw().toBuffer();
      return part.reduce((n, v, i) => n + Math.abs(v - other[i]!), 0) / part.length;
    };
    const here = await difference(10, 10);
    // Noise and WebP are all that is between them; a few pixels aside it is another picture.
    expect(here).toBeLessThan(5);
    for (const [x, y] of [
      [2, 10],
      [18, 10],
      [10, 2],
      [10, 18],
    ] as const)
      expect(await difference(x, y)).toBeGreaterThan(here + 0.5);
  });

  it('of a set that cannot be planned says why, and of a strange revision 404', async () => {
    const file = plan();
    const twice = { ...file, shots: [file.shots[0]!, { ...file.shots[0]!, id: 'again' }].map((s) => ({ ...s, name: 'Spin' })) };
    const set = await server.addSet(project, twice);
    const reply = await server.call().get(`/api/sets/${set.id}/forecast?revision=${revision()}`);
    expect(reply.status).toBe(422);
    expect((reply.body as { detail: string }).detail).toContain('Two frames would be named');
    expect((await server.call().get(`/api/sets/${set.id}/forecast?revision=99`)).status).toBe(404);
  });
});

describe('a batch that was foreseen', () => {
  it('begins with its forecast, ends with nothing remaining, and teaches the next', async () => {
    const set = await server.addSet(project, plan({ size: { width: 64, height: 36 } }));
    const foreseen = await ask(set);
    const { id } = (await server.call().post(`/api/sets/${set.id}/batches`).send({ revision: revision() })).body as BatchReply;
    const batch = async (): Promise<BatchReply> => (await server.call().get(`/api/batches/${id}`)).body as BatchReply;
    await vi.waitFor(async () => expect((await batch()).forecast).toBeDefined(), { timeout: 10_000 });
    expect((await batch()).forecast!.seconds.likely).toBeCloseTo(foreseen.seconds.likely, 6);
    const { seconds } = (await server.call().get(`/api/batches/${id}/forecast`)).body as { seconds: number[] };
    expect(seconds).toHaveLength(6);
    expect(seconds.every((s) => s > 0)).toBe(true);
    await vi.waitFor(async () => expect((await batch()).state).toBe('done'), { timeout: 20_000 });
    expect((await batch()).remaining).toBe(0);
    const frames = (await server.call().get(`/api/batches/${id}/frames`)).body as FrameReply[];
    const ratio = frames.reduce((n, f) => n + f.seconds!, 0) / seconds.reduce((a, b) => a + b, 0);
    const next = await ask(await server.addSet(project, plan({ size: { width: 64, height: 36 } })));
    expect(next.learntFrom).toBe(1);
    // One batch is trusted by half of its logarithm.
    const { fixed } = foreseen.parts;
    expect(fixed).toBeGreaterThan(0);
    expect(next.seconds.likely / foreseen.seconds.likely).toBeCloseTo(Math.sqrt(ratio), 1);
  });
});

// After those that count what was learnt: its batch teaches too.
it('a forecast says what is rendered in truth where frames are there already', async () => {
  const file = plan({ size: { width: 64, height: 36 }, quality: undenoised(8) });
  const set = await server.addSet(project, { ...file, views: file.views.map((v) => ({ ...v, focalLength: 43 })) });
  const before = await ask(set);
  expect(before.toRender).toBeUndefined();
  const started = await server.call().post(`/api/sets/${set.id}/batches`).send({ revision: revision(), select: '1-4', firstFrames: 0 });
  const { id } = started.body as BatchReply;
  await vi.waitFor(async () => expect(((await server.call().get(`/api/batches/${id}`)).body as BatchReply).state).toBe('done'), {
    timeout: 60_000,
    interval: 50,
  });
  const after = await ask(set);
  expect(after.frames).toBe(6);
  expect(after.toRender!.frames).toBe(2);
  expect(after.toRender!.seconds.likely).toBeGreaterThan(0);
  // As long as those two take by themselves, whatever the trials came to.
  const rest = await ask(set, '&select=5-6');
  expect(after.toRender!.seconds.likely / rest.seconds.likely).toBeCloseTo(1, 1);
  // Those of the selection that are there.
  expect((await ask(set, '&select=1-3')).toRender).toEqual({ frames: 0, seconds: { low: 0, likely: 0, high: 0 } });
  expect(rest.toRender).toBeUndefined();
});

it('the check before a run says where the files do not fit', async () => {
  const set = await server.addSet(project, plan({ size: { width: 80, height: 44 } }));
  const { config } = server.running.context;
  const check = async (): Promise<PreflightReply> =>
    (await server.call().get(`/api/sets/${set.id}/preflight?revision=${revision()}`)).body as PreflightReply;
  const reserve = config.reserveBytes;
  const noRoom = async () => (await check()).findings.filter((f) => f.check === 'no-room').map((f) => f.severity);
  try {
    config.reserveBytes = Number.MAX_SAFE_INTEGER;
    // Nobody foresaw it yet.
    expect(await noRoom()).toEqual([]);
    await ask(set);
    expect(await noRoom()).toEqual(['fault']);
    config.reserveBytes = reserve;
    expect(await noRoom()).toEqual([]);
  } finally {
    config.reserveBytes = reserve;
  }
});

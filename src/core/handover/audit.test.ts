/** The audit's rules, one planted fault each: an honest package has none. */
import { describe, expect, it } from 'vitest';
import { deliverySchema } from '../plan/delivery.js';
import { changedSince, type FileFacts, judgeFile, judgePackage } from './audit.js';
import { checksumLines, type FileEntry, type Manifest, manifestSchema, type MovieEntry, PACKAGE_FORMAT, type RenderEntry } from './manifest.js';

const sum = (n: number): string => n.toString(16).padStart(64, '0');
const render = (number: number, more: Partial<RenderEntry> = {}): RenderEntry => ({
  kind: 'render',
  path: `set/spin.${number}.png`,
  bytes: 100,
  sha256: sum(number),
  width: 64,
  height: 36,
  type: 'png 8',
  alpha: false,
  run: '1 spin',
  number,
  pass: 'beauty',
  identity: sum(number),
  ...more,
});
const movie: MovieEntry = {
  kind: 'movie',
  path: 'set/spin.mp4',
  bytes: 900,
  sha256: sum(99),
  width: 64,
  height: 36,
  type: 'h264',
  run: '1 spin',
  rate: '24000/1001',
  frames: 3,
};
const manifest = (more: Partial<Manifest> = {}): Manifest => ({
  format: PACKAGE_FORMAT,
  version: 1,
  application: 'test',
  name: 'Package',
  project: 'Project',
  set: 'Set',
  made: '2026-11-30T00:00:00.000Z',
  onlyChanged: false,
  models: { A: 'x' },
  runs: [{ key: '1 spin', name: 'Spin', revision: 'A', batch: 1, moving: true, rate: '24000/1001', width: 64, height: 36, numbers: [1, 2, 3] }],
  files: [render(1), render(2), render(3), movie],
  ...more,
});
const factsOf = (entry: FileEntry, more: Partial<FileFacts> = {}): FileFacts => ({
  bytes: entry.bytes,
  sha256: entry.sha256,
  ...(entry.kind === 'render' && { type: entry.type, width: entry.width, height: entry.height, alpha: entry.alpha }),
  ...more,
});
const movieFacts = (more: object = {}): FileFacts =>
  factsOf(movie, {
    type: 'h264',
    width: 64,
    height: 36,
    movie: {
      rate: '24000/1001',
      frames: 3,
      seconds: (3 * 1001) / 24000,
      pixelFormat: 'yuv420p',
      profile: 'High',
      range: 'tv',
      matrix: 'bt709',
      fastStart: true,
      ...more,
    },
  });
const rules = (faults: { rule: string }[]): string[] => faults.map((f) => f.rule);
const paths = (m: Manifest): string[] => [...m.files.map((f) => f.path), 'manifest.json', 'checksums.sha256'];

describe('a file', () => {
  it('is as it must be, or each of its faults is named', () => {
    const entry = render(1);
    expect(judgeFile(entry, factsOf(entry))).toEqual([]);
    expect(rules(judgeFile(entry, null))).toEqual(['missing']);
    expect(rules(judgeFile(entry, factsOf(entry, { sha256: sum(7), problem: 'end of file' })))).toEqual(['checksum', 'torn']);
    expect(judgeFile(entry, factsOf(entry, { width: 63 }))).toEqual([{ rule: 'size', file: entry.path, expected: '64 × 36', found: '63 × 36' }]);
    expect(judgeFile(entry, factsOf(entry, { type: 'png 16' }))[0]).toMatchObject({ rule: 'type', expected: 'png 8', found: 'png 16' });
    expect(rules(judgeFile(entry, factsOf(entry, { alpha: true })))).toEqual(['alpha']);
  });
  it.each([
    [{ rate: '24' }, 'rate'],
    [{ rate: '25' }, 'rate'],
    [{ frames: 2 }, 'length'],
    [{ seconds: 0.2 }, 'length'],
    [{ matrix: 'bt470bg' }, 'codec'],
    [{ range: 'pc' }, 'codec'],
    [{ fastStart: false }, 'codec'],
  ])('that is a movie with %o has the fault "%s"', (more, rule) => {
    expect(judgeFile(movie, movieFacts())).toEqual([]);
    expect(rules(judgeFile(movie, movieFacts(more)))).toEqual([rule]);
  });
  it('that is a movie whose rate is told as a number is the same within a ten thousandth', () => {
    expect(judgeFile(movie, movieFacts({ rate: '23.976' }))).toEqual([]);
  });
});

describe('a package', () => {
  it('is whole, or lacks frames of one type, by number', () => {
    expect(judgePackage(manifest(), paths(manifest()))).toEqual([]);
    const lacking = manifest({ files: [render(1), render(2), render(3), render(1, { type: 'jpeg 8', path: 'set/spin.1.jpg' }), movie] });
    expect(judgePackage(lacking, paths(lacking))).toEqual([
      { rule: 'frames', file: 'Spin', expected: '3 frames of jpeg 8, beauty', found: '1; missing 2, 3' },
    ]);
    const changes = { ...lacking, onlyChanged: true };
    expect(judgePackage(changes, paths(changes))).toEqual([]);
  });
  it('has no name twice, also where only capitals tell them apart, and no file that nobody listed', () => {
    const doubled = manifest({ files: [render(1), render(2), render(3, { path: 'set/SPIN.2.png' }), movie] });
    expect(judgePackage(doubled, paths(doubled))).toEqual([
      { rule: 'name', file: 'set/SPIN.2.png', expected: 'a name of its own', found: 'also set/spin.2.png' },
    ]);
    expect(judgePackage(manifest(), [...paths(manifest()), 'Thumbs.db'])).toMatchObject([{ rule: 'unlisted', file: 'Thumbs.db' }]);
  });
  it.each([
    [{ sizes: [{ width: 1920, height: 1080 }] }, '64 × 36'],
    [{ rates: ['25'] }, '24000/1001 frames a second'],
    [{ files: ['png 16'] }, 'no png 16'],
    [{ names: 'spin_####' }, 'spin.1 and 2 more'],
    [{ maxSeconds: 0.1 }, '0.13 s'],
    [{ maxFrames: 2 }, '3'],
    [{ alpha: true }, 'no alpha'],
  ])('that is asked for as %o is not', (asked, found) => {
    const m = manifest({ delivery: deliverySchema.parse({ name: 'Client', ...asked }) });
    expect(judgePackage(m, paths(m))).toMatchObject([{ rule: 'asked', found }]);
  });
  it('without the movie that was asked for says so', () => {
    const m = manifest({ delivery: deliverySchema.parse({ name: 'Client', movie: 'h264' }) });
    expect(judgePackage(m, paths(m))).toEqual([]);
    const none = { ...m, files: m.files.filter((f) => f.kind === 'render') };
    expect(judgePackage(none, paths(none))).toMatchObject([{ rule: 'asked', expected: 'a movie in h264', found: 'none' }]);
  });
  it('tells what changed since another', () => {
    const files = [render(1), render(2, { sha256: sum(20) }), render(4)];
    expect(changedSince(manifest().files, files)).toEqual({
      added: ['set/spin.4.png'],
      changed: ['set/spin.2.png'],
      removed: ['set/spin.3.png', 'set/spin.mp4'],
    });
  });
});

describe('a manifest', () => {
  it('leads out of nothing', () => {
    const refused = (path: string): boolean => !manifestSchema.safeParse(manifest({ files: [render(1, { path })] })).success;
    expect(['../a.png', '/a.png', 'a//b.png', 'a\\b.png', './a.png'].map(refused)).toEqual([true, true, true, true, true]);
    expect(refused('a/b..c.png')).toBe(false);
  });
  it('gives checksums as the tool of GNU coreutils takes them', () => {
    expect(checksumLines([render(1)])).toBe(`${sum(1)}  set/spin.1.png\n`);
  });
});

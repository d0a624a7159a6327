/** Node and Chromium make the same bits of the same frame, server and command line the same files. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '../support/browserTest.js';
import { build } from 'esbuild';
import sharp from 'sharp';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { SetReply } from '../../src/contract/contract.js';
import { tern } from '../../demo/tern.js';
import { compile, encodeScene } from '../../src/engine/scene/compile.js';
import { ternGlb } from '../support/box.js';
import { anotherTern } from '../support/page.js';
import { bitsOf } from '../support/bits.js';
import { sharedServer as server } from '../support/sharedServer.js';
import { frameFor } from '../support/trace.js';

test.beforeAll(() => server.start());
test.afterAll(() => server.end());

type Bits = Awaited<ReturnType<typeof bitsOf>>;

test('the same frame has the same bits in Node and in Chromium', async ({ browser }) => {
  const kernel = new Uint8Array(readFileSync('dist/kernel.wasm'));
  const model = tern();
  const scene = new Uint8Array(encodeScene(compile(new WebAssembly.Module(kernel), model)));
  // Glass, metal, a lamp that shines and the surround are all in this frame.
  const lights = [
    {
      kind: 'rectangle' as const,
      centre: [0.5, 2, 1] as [number, number, number],
      u: [0.5, 0, 0] as [number, number, number],
      v: [0, 0, -0.5] as [number, number, number],
      radiance: [30, 30, 30] as [number, number, number],
    },
  ];
  const environment = {
    top: [1, 1, 1] as [number, number, number],
    middle: [0.8, 0.8, 0.9] as [number, number, number],
    bottom: [0.3, 0.3, 0.3] as [number, number, number],
  };
  const frame = frameFor(model, {
    eye: [0.86, 0.46, 1.12],
    target: [-0.02, 0.3, -0.02],
    width: 64,
    height: 48,
    samples: 16,
    stage: { lights, environment },
  });
  const here = await bitsOf(kernel, scene, frame);
  expect(here.mean).toBeGreaterThan(0.01);

  const bundle = await build({
    stdin: {
      contents: `import { bitsOf } from './tests/support/bits.ts'; window.bitsOf = bitsOf;`,
      resolveDir: process.cwd(),
    },
    bundle: true,
    write: false,
    format: 'iife',
    platform: 'browser',
  });
  const context = await browser.newContext({ bypassCSP: true });
  const page = await context.newPage();
  // A page of the application's: shared memory needs its headers.
  await page.goto(server.url);
  await page.addScriptTag({ content: bundle.outputFiles[0]!.text });
  const there = await page.evaluate(
    async ({ kernel64, scene64, asked }) => {
      const bytes = (text: string): Uint8Array => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
      return (window as unknown as { bitsOf: (k: Uint8Array, s: Uint8Array, f: unknown) => Promise<Bits> }).bitsOf(
        bytes(kernel64),
        bytes(scene64),
        asked,
      );
    },
    { kernel64: Buffer.from(kernel).toString('base64'), scene64: Buffer.from(scene).toString('base64'), asked: frame },
  );
  await context.close();
  expect(there).toEqual(here);
});

test('assigned materials are rendered, the same by the server and by the command line', { tag: '@long' }, async () => {
  const project = await anotherTern(server, 'Assignments');
  const { file: planned } = await server.get<SetReply>(`/sets/${project.sets[0]!.id}`);
  const glow = { name: 'Glow', colour: '#00ff00', glow: 4 };
  const view = {
    id: 'v',
    name: 'v',
    kind: 'perspective' as const,
    eye: [0.86, 0.46, 1.12] as [number, number, number],
    target: [-0.02, 0.215, -0.02] as [number, number, number],
    focalLength: 50,
    keepVerticals: false,
  };
  const base = {
    ...planned,
    name: 'Worn',
    sheet: { ...planned.sheet, size: { width: 96, height: 54 }, quality: 'draft' as const },
    views: [view],
    shots: [{ id: 's', kind: 'still' as const, views: ['v'] }],
  };
  const assignments = { parts: [], rules: [{ match: '*base*', material: 'Glow' }], materials: [glow], swaps: [], variants: [] };
  const render = async (set: Omit<typeof base, 'materials'> & { materials?: unknown }): Promise<Buffer> => {
    const own = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file: set });
    const batch = await server.send<BatchReply>('POST', `/sets/${own.id}/batches`, { revision: project.revisions[0]!.id });
    await expect
      .poll(async () => (await server.get<FrameReply[]>(`/batches/${batch.id}/frames`)).every((f) => f.state === 'done'), { timeout: 60_000 })
      .toBe(true);
    const [frame] = await server.get<FrameReply[]>(`/batches/${batch.id}/frames`);
    return sharp(readFileSync(path.join(batch.folder, frame!.files[0]!)))
      .raw()
      .toBuffer();
  };
  const plain = await render({ ...base, materials: undefined });
  const worn = await render({ ...base, name: 'Worn 2', materials: assignments });
  const green = (pixels: Buffer): number => {
    let n = 0;
    for (let i = 0; i < pixels.length; i += 3) if (pixels[i + 1]! > 200 && pixels[i]! < 120) n++;
    return n;
  };
  expect(green(plain)).toBe(0);
  expect(green(worn)).toBeGreaterThan(20);

  const folder = mkdtempSync(path.join(tmpdir(), 'easel-worn-'));
  writeFileSync(path.join(folder, 'set.json'), JSON.stringify({ ...base, name: 'Worn 2', materials: assignments }));
  writeFileSync(path.join(folder, 'tern.glb'), await ternGlb());
  const easel = (set: string, out: string) =>
    spawnSync(
      process.execPath,
      ['bin/easel.mjs', 'render', path.join(folder, set), '--model', path.join(folder, 'tern.glb'), '--out', path.join(folder, out), '--json'],
      { encoding: 'utf8' },
    );
  const run = easel('set.json', 'out');
  expect(run.status, run.stderr).toBe(0);
  const [mine] = (JSON.parse(run.stdout) as { frames: { file: string }[] }).frames;
  expect((await sharp(readFileSync(mine!.file)).raw().toBuffer()).equals(worn)).toBe(true);

  // A finish that nobody knows is said before anything is rendered.
  const lost = { ...assignments, rules: [{ match: '*', material: 'unobtainium' }] };
  writeFileSync(path.join(folder, 'lost.json'), JSON.stringify({ ...base, materials: lost }));
  const refused = easel('lost.json', 'out2');
  expect(refused.status).toBe(2);
  expect(refused.stderr).toContain('there is no material "unobtainium"');
  const own = await server.send<SetReply>('POST', `/projects/${project.id}/sets`, { file: { ...base, name: 'Lost', materials: lost } });
  const answer = await server.send<{ detail: string }>('POST', `/sets/${own.id}/batches`, { revision: project.revisions[0]!.id });
  expect(answer.detail).toContain('There is no material "unobtainium"');
  rmSync(folder, { recursive: true });
});

/** Node and Chromium make the same bits of the same frame. */
import { readFileSync } from 'node:fs';
import { expect, test } from '../support/browserTest.js';
import { build } from 'esbuild';
import { tern } from '../../demo/tern.js';
import { compile, encodeScene } from '../../src/engine/scene/compile.js';
import { bitsOf } from '../support/bits.js';
import { TestServer } from '../support/server.js';
import { frameFor } from '../support/trace.js';

const server = new TestServer(4914);
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
    stdin: { contents: `import { bitsOf } from './tests/support/bits.ts'; window.bitsOf = bitsOf;`, resolveDir: process.cwd() },
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

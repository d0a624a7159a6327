/** Pictures whose eye's rays go together are those whose samples are taken one by one, to the last bit. */
import { describe, expect, it } from 'vitest';
import { northmere } from '../../demo/northmere.js';
import { tern } from '../../demo/tern.js';
import type { Frame } from '../../src/core/frame/frame.js';
import type { Model } from '../../src/core/model/model.js';
import { cameraOf, type View } from '../../src/core/camera/view.js';
import { compile } from '../../src/engine/scene/compile.js';
import { filmLayout } from '../../src/engine/upload/filmLayout.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { loadScene, localKernel } from '../../src/engine/upload/loadScene.js';
import { frameFor, type TraceOptions, WHITE } from '../support/trace.js';

const module = loadKernelModule();
const size = { width: 48, height: 32 };
const SAMPLES = 18;

/** A picture's sums, from calls of so many samples each. */
function sums(model: Model, options: Partial<TraceOptions> & { view: View }, step: number): Float32Array {
  const { view, ...rest } = options;
  const camera = rest.frame?.camera ?? cameraOf(view, size, 1);
  const frame = frameFor(model, {
    eye: view.eye as [number, number, number],
    target: view.target as [number, number, number],
    ...size,
    samples: SAMPLES,
    bounces: 3,
    stage: { environment: WHITE },
    ...rest,
    frame: { camera, ...rest.frame },
  });
  const host = loadScene(module, compile(module, model), 1);
  const kernel = localKernel(module, host);
  const record = host.lay(0, frame);
  const { stride } = filmLayout(frame);
  const out: number[] = [];
  const { tile } = host.areas[0]!;
  for (let x = 0; x < size.width; x += 16) {
    const floats = new Float32Array(host.memory.buffer, tile, 16 * size.height * stride);
    floats.fill(0);
    for (let s = 0; s < SAMPLES; s += step) kernel.renderTile(record, x, 0, 16, size.height, s, Math.min(SAMPLES, s + step), tile);
    out.push(...floats);
  }
  return Float32Array.from(out);
}

const LAMP: View = { id: 'v', name: 'v', eye: [0.7, 0.45, 0.8], target: [0, 0.2, 0], focalLength: 50, keepVerticals: false, kind: 'perspective' };
const LANDING: View = { ...LAMP, eye: [13, 1.7, 12], target: [0, 1.5, 0], focalLength: 24 };

describe('samples that begin together', () => {
  const light = tern();
  const landing = northmere();
  it.each<[string, Model, Partial<TraceOptions> & { view: View }]>([
    ['a desk lamp through a lens, in parts that stand turned', light, { view: { ...LAMP, aperture: 1.4, focus: 1 } }],
    ['the same, parallel', light, { view: { ...LAMP, kind: 'parallel', width: 0.7 } }],
    ['a landing with water and glass', landing, { view: LANDING }],
    ['a panorama from within, where rays go every way', landing, { view: { ...LANDING, kind: 'panorama', eye: [0, 1.6, 0], target: [0, 1.6, -1] } }],
    ['a quick picture', light, { view: LAMP, sampling: { mode: 'quick' } as Partial<Frame['sampling']> }],
    [
      'a turning subject while the shutter is open, one by one',
      light,
      { view: LAMP, frame: { shutter: { camera: cameraOf(LAMP, size, 1), rotation: 10 } } },
    ],
    ['a cut lamp, one by one', light, { view: LAMP, frame: { section: { planes: [{ normal: [1, 0, 0], offset: 0.05 }] } } }],
  ])('%s', (_, model, options) => {
    const together = sums(model, options, SAMPLES);
    expect(new Set(together).size).toBeGreaterThan(1000);
    expect(sums(model, options, 1)).toEqual(together);
    // Some of a pixel's samples together and the rest alone.
    expect(sums(model, options, 7)).toEqual(together);
  });
});

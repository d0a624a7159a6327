import { describe, expect, it } from 'vitest';
import { transformBounds } from '../../core/math/bounds.js';
import { matrixOf } from '../../core/math/matrix.js';
import { modelBounds } from '../../core/model/model.js';
import { transformedBounds, resolveTransform, modelTransformSchema } from '../../core/model/modelTransform.js';
import { MeshMaker, modelOf } from '../../core/model/meshMaker.js';
import { compile } from './compile.js';
import { loadKernelModule } from '../node/assets.js';
import { PLINTH, transformScene } from './transformScene.js';
import { loadScene, localKernel } from '../upload/loadScene.js';
import { frameFor } from '../../../tests/support/trace.js';
import * as L from '../../../kernel/layout.js';

const module = loadKernelModule();
const model = modelOf('bar', [{ mesh: new MeshMaker().box([0, 0, 0], [1, 2, 4]).mesh() }]);
const scene = compile(module, model);

describe('a placed scene', () => {
  it('lays the model down, halves it and leaves its trees', () => {
    const place = modelTransformSchema.parse({ up: '+z', scale: 0.5, ground: true, centre: true });
    const placed = transformScene(module, scene, resolveTransform(place, modelBounds(model))!);
    expect(placed.image).toBe(scene.image);
    const box = transformBounds(placed.meshes[0]!.bounds, matrixOf(placed.parts[0]!.world));
    expect(box.max.map((v, i) => v - box.min[i]!)).toEqual([0.5, 2, 1].map((v) => expect.closeTo(v, 9) as number));
    expect(box.min[1]).toBeCloseTo(0, 9);
  });

  it('stands on a plinth that rays meet at its height, and that is no part of the subject', () => {
    const place = modelTransformSchema.parse({ centre: true, plinth: { height: 0.25, margin: 0.5, corner: 0.1 } });
    const placed = transformScene(module, scene, resolveTransform(place, modelBounds(model))!);
    expect(placed.parts.at(-1)).toMatchObject({ path: PLINTH, isContext: true });
    expect(placed.materials.at(-1)!.name).toBe('white paint');
    const host = loadScene(module, placed, 1);
    expect(host.data.subject.min[1]).toBeCloseTo(0.25, 6);
    expect(host.data.subject).toEqual(transformedBounds(place, modelBounds(model)));
    const kernel = localKernel(module, host);
    const record = host.lay(0, frameFor(model, { eye: [0, 1, 9], target: [0, 1, 0] }));
    const at = host.areas[0]!.tile;
    const floats = new Float32Array(host.memory.buffer, at, 8);
    // Down through the margin beside the bar: the plinth's top; within it, the bar's.
    const heights = [
      [0.8, 0],
      [0, 0],
      [0.98, 2.48],
    ].map(([x, z]) => {
      floats.set([x!, 10, z!, 0, -1, 0, 100]);
      kernel.query(record, at, at + L.QUERY_BYTES, 1, 0, L.OPAQUE);
      return 10 - new Float32Array(host.memory.buffer, at + L.QUERY_BYTES, 1)[0]!;
    });
    expect(heights[0]).toBeCloseTo(0.25, 5);
    expect(heights[1]).toBeCloseTo(2.25, 5);
    // Outside the rounded corner there is nothing.
    expect(heights[2]).toBe(-Infinity);
  });

  it('says which finish of a plinth is known nowhere', () => {
    const placed = resolveTransform(modelTransformSchema.parse({ plinth: { height: 0.1, material: 'unobtainium' } }), modelBounds(model))!;
    expect(() => transformScene(module, scene, placed)).toThrow('no material "unobtainium" for the plinth');
  });
});

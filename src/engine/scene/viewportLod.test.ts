import { describe, expect, it } from 'vitest';
import { boundsOfPoints } from '../../core/math/bounds.js';
import { triangleCount } from '../../core/model/model.js';
import { displacedSphere } from '../../../bench/scenes.js';
import { MeshMaker, modelOf } from '../../core/model/meshMaker.js';
import { reduceModel } from './viewportLod.js';

describe('the reduced form', () => {
  it('has about as many triangles as asked, stands where the whole one stands, and keeps its parts', async () => {
    const ball = displacedSphere(300);
    const less = (await reduceModel(ball, 20_000))!;
    expect(triangleCount(less)).toBeLessThan(21_000);
    expect(triangleCount(less)).toBeGreaterThan(15_000);
    const [whole, few] = [ball, less].map((m) => boundsOfPoints(m.meshes[0]!.positions)) as [
      ReturnType<typeof boundsOfPoints>,
      ReturnType<typeof boundsOfPoints>,
    ];
    for (let k = 0; k < 3; k++) {
      const size = whole.max[k]! - whole.min[k]!;
      expect(Math.abs(few.max[k]! - whole.max[k]!)).toBeLessThan(0.02 * size);
      expect(Math.abs(few.min[k]! - whole.min[k]!)).toBeLessThan(0.02 * size);
    }
    const mesh = less.meshes[0]!;
    expect(Math.max(...mesh.indices)).toBe(mesh.positions.length / 3 - 1);
    if (mesh.normals) expect(mesh.normals.length).toBe(mesh.positions.length);
    expect(less.parts).toBe(ball.parts);
    // The whole one is as it was.
    expect(triangleCount(ball)).toBeGreaterThan(80_000);
  });

  it('is not made of what is light, and leaves simple parts whole', async () => {
    const box = new MeshMaker().box([0, 0, 0], [1, 1, 1]).mesh();
    expect(await reduceModel(modelOf('box', [{ mesh: box }]))).toBeNull();
    const many = modelOf('many', [{ mesh: box }, { mesh: displacedSphere(100).meshes[0]! }]);
    const less = (await reduceModel(many, 1000))!;
    expect(less.meshes[0]).toBe(box);
    expect(triangleCount(less)).toBeLessThan(1300);
  });
});

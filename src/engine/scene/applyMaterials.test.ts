import { describe, expect, it } from 'vitest';
import { compileAssignments, materialAssignmentsSchema } from '../../core/materials/assignments.js';
import { frameFor, WHITE } from '../../../tests/support/trace.js';
import * as L from '../../../kernel/layout.js';
import { MeshMaker, modelOf } from '../../core/model/meshMaker.js';
import { compile } from './compile.js';
import { applyMaterials } from './applyMaterials.js';
import { filmLayout } from '../upload/filmLayout.js';
import { loadKernelModule } from '../node/assets.js';
import { loadScene, localKernel } from '../upload/loadScene.js';
import { resolveScene } from './resolveScene.js';

const module = loadKernelModule();
/** Two squares that face +Z, left and right of the middle. */
const model = modelOf('squares', [
  { mesh: new MeshMaker().quad([-1, -0.5, 0], [1, 0, 0], [0, 1, 0]).mesh(), material: { base: [0.5, 0.5, 0.5], specular: 0 } },
  { mesh: new MeshMaker().quad([0, -0.5, 0], [1, 0, 0], [0, 1, 0]).mesh(), material: { base: [0.5, 0.5, 0.5], specular: 0 } },
]);
const scene = compile(module, model);
const assignments = (values: unknown) => compileAssignments(materialAssignmentsSchema.parse(values))!;

/** Mean red, green and blue of the left and of the right square, evenly lit. */
function look(values?: unknown): { left: number[]; right: number[]; cover: number[] } {
  const changed = values === undefined ? scene : applyMaterials(scene, assignments(values));
  const frame = frameFor(model, { eye: [0, 0, 4], target: [0, 0, 0], width: 32, height: 16, samples: 32, stage: { environment: WHITE } });
  const host = loadScene(module, changed, 1);
  const kernel = localKernel(module, host);
  const { stride } = filmLayout(frame);
  const at = host.areas[0]!.tile;
  new Float32Array(host.memory.buffer, at, 32 * 16 * stride).fill(0);
  kernel.renderTile(host.lay(0, frame), 0, 0, 32, 16, 0, 32, at);
  const sums = new Float32Array(host.memory.buffer, at, 32 * 16 * stride);
  // Pixels well inside each square: a metre is 11.1 of them.
  const mean = (x: number, plane: number): number => sums[(8 * 32 + x) * stride + plane]! / 32;
  const rgb = (x: number): number[] => [0, 1, 2].map((c) => mean(x, c));
  return { left: rgb(11), right: rgb(20), cover: [mean(11, L.PIXEL_COVERAGE), mean(20, L.PIXEL_COVERAGE)] };
}

describe('a with its materials scene', () => {
  it('shows the other finish where it is put, and nowhere else', () => {
    const plain = look();
    for (const c of [...plain.left, ...plain.right]) expect(c).toBeCloseTo(0.5, 2);
    const materials = [{ name: 'Leaf', colour: '#00ff00', roughness: 1 }];
    const half = look({ parts: [{ path: 'part 2', material: 'Leaf' }], materials });
    half.left.forEach((c, i) => expect(c).toBeCloseTo(plain.left[i]!, 5));
    expect(half.right[1]).toBeGreaterThan(10 * half.right[0]!);
    const swapped = look({ swaps: [{ from: 'finish 1', to: 'Leaf' }], materials });
    expect(swapped.left[1]).toBeGreaterThan(10 * swapped.left[0]!);
  });

  it('leaves out what is not in the picture', () => {
    expect(look().cover).toEqual([1, 1]);
    expect(look({ parts: [{ path: 'part 1', renderVisible: false }] }).cover).toEqual([0, 1]);
  });

  it('draws light from what a finish makes shine', () => {
    const { left } = look({ parts: [{ path: 'part 1', material: 'Glow' }], materials: [{ name: 'Glow', colour: '#ffffff', glow: 7 }] });
    expect(left[0]).toBeGreaterThan(6.9);
  });

  it('keeps the compiled scene as it was', () => {
    const before = JSON.stringify({ parts: scene.parts, materials: scene.materials });
    applyMaterials(scene, assignments({ parts: [{ path: 'part 1', material: 'pine', renderVisible: false }] }));
    expect(JSON.stringify({ parts: scene.parts, materials: scene.materials })).toBe(before);
    expect(() => applyMaterials(scene, assignments({ parts: [{ path: 'part 1', material: 'unobtainium' }] }))).toThrow(
      'There is no material "unobtainium"',
    );
  });

  it('is told apart from others by the pool’s key', () => {
    const frame = frameFor(model, { eye: [0, 0, 4], target: [0, 0, 0] });
    const source = {
      hash: 'h',
      scene: () => scene,
      module: loadKernelModule,
      texture: () => Promise.reject(new Error('none')),
      picture: () => Promise.reject(new Error('none')),
    };
    const changed = assignments({ parts: [{ path: 'part 1', renderVisible: false }] });
    expect(resolveScene(frame, source).key).toBe('h');
    expect(resolveScene({ ...frame, materials: changed }, source).key).toBe(`h+${changed.id}`);
  });
});

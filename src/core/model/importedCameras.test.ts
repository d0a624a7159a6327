import { mat4 } from 'gl-matrix';
import { describe, expect, it } from 'vitest';
import type { Bounds } from '../math/bounds.js';
import { cameraOf, viewSchema } from '../camera/view.js';
import { importedCameras } from './importedCameras.js';
import { IDENTITY_TRS, type Model, type ModelCamera, type Part, VISIBLE_TO_ALL } from './model.js';

const bounds: Bounds = { min: [-1, 0, -1], max: [1, 2, 1] };

function withCamera(world: mat4, lens: ModelCamera['lens'], name = 'Camera'): Pick<Model, 'cameras' | 'parts'> {
  const part: Part = {
    name,
    path: name,
    parent: -1,
    place: IDENTITY_TRS,
    world,
    primitives: [],
    renderVisible: true,
    visible: VISIBLE_TO_ALL,
    isContext: false,
  };
  return { parts: [part], cameras: [{ part: 0, name, lens }] };
}

const looking = (eye: [number, number, number], target: [number, number, number]): mat4 =>
  mat4.targetTo(new Array<number>(16).fill(0) as unknown as mat4, eye, target, [0, 1, 0]);

describe('views of a file’s cameras', () => {
  it('see the same: the matrices of the view are those of the camera', () => {
    const yfov = 0.6;
    const aspect = 1.5;
    const [view] = importedCameras(withCamera(looking([3, 1.5, 4], [0, 1, 0]), { kind: 'perspective', yfov, aspect }), bounds);
    expect(view!.target.map((v) => Math.round(v * 10))).toEqual([0, 10, 0]);
    const camera = cameraOf(viewSchema.parse({ ...view, id: 'v' }), { width: 1500, height: 1000 }, 1);
    // glTF 2.0, section 3.10: the projection has 1 / tan(yfov / 2) up and that over the aspect across.
    expect(camera.projectionMatrix[5]).toBeCloseTo(1 / Math.tan(yfov / 2), 5);
    expect(camera.projectionMatrix[0]).toBeCloseTo(1 / (aspect * Math.tan(yfov / 2)), 5);
    const inverse = mat4.invert(new Array<number>(16).fill(0) as unknown as mat4, looking([3, 1.5, 4], [0, 1, 0]))!;
    camera.viewMatrix.forEach((v, i) => expect(v).toBeCloseTo(inverse[i]!, 5));
  });

  it('of an upright picture: the long side is its height', () => {
    const [view] = importedCameras(
      withCamera(looking([0, 1, 5], [0, 1, 0]), { kind: 'perspective', yfov: 2 * Math.atan(18 / 50), aspect: 0.5 }),
      bounds,
    );
    expect(view!.focalLength).toBeCloseTo(50, 5);
  });

  it('that do not state their shape are taken for 16:9', () => {
    const [view] = importedCameras(withCamera(looking([0, 1, 5], [0, 1, 0]), { kind: 'perspective', yfov: 0.5, aspect: null }), bounds);
    expect(view!.focalLength).toBeCloseTo(18 / (Math.tan(0.25) * (16 / 9)), 4);
  });

  it('parallel ones have the width of their longer side', () => {
    const [view] = importedCameras(withCamera(looking([0, 1, 5], [0, 1, 0]), { kind: 'parallel', xmag: 1.5, ymag: 2 }), bounds);
    expect(view).toMatchObject({ kind: 'parallel', width: 4 });
  });

  it('that look away from the subject still have a target ahead; angles beyond the range come as near as they go', () => {
    const [away] = importedCameras(withCamera(looking([0, 1, 5], [0, 1, 9]), { kind: 'perspective', yfov: 3, aspect: 1 }), bounds);
    expect(away!.target).toEqual([0, 1, 6]);
    expect(away!.focalLength).toBe(8);
    expect(() => viewSchema.parse({ ...away, id: 'v' })).not.toThrow();
  });

  it('say where they lean', () => {
    const world = looking([0, 1, 5], [0, 1, 0]);
    mat4.rotateZ(world, world, 0.3);
    const told: string[] = [];
    importedCameras(withCamera(world, { kind: 'perspective', yfov: 0.5, aspect: 1.5 }, 'Tilted'), bounds, (line) => told.push(line));
    expect(told).toEqual(['The camera "Tilted" leans by 17°; the view that is offered is level.']);
    importedCameras(withCamera(looking([0, 1, 5], [0, 1, 0]), { kind: 'perspective', yfov: 0.5, aspect: 1.5 }), bounds, (line) => told.push(line));
    expect(told).toHaveLength(1);
  });
});

/** The plan as GLB, read by others: Khronos' glTF validator, three.js' loader and its animation mixer, and our own reader. */
import { AnimationMixer, LoopOnce, Matrix4, type Object3D, OrthographicCamera, PerspectiveCamera, Quaternion, Vector3, Vector4 } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { mat4 } from 'gl-matrix';
import { validateBytes } from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { northmere } from '../../demo/northmere.js';
import { LANDING } from '../../demo/sets.js';
import { tern } from '../../demo/tern.js';
import { importedCameras } from '../../src/core/model/importedCameras.js';
import { modelBounds } from '../../src/core/model/model.js';
import { withFrame, type Frame } from '../../src/core/frame/frame.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import { parseSet } from '../../src/core/plan/set.js';
import { turnMatrix } from '../../src/core/camera/view.js';
import { exportPlanGlb } from '../../src/engine/output/planGlb.js';
import { glb } from '../../src/formats/glb/format.js';
import { writeGlb } from '../../src/formats/glb/write.js';

const set = parseSet({
  format: 'cold-easel.set',
  version: 2,
  name: 'Lamp',
  sheet: { size: { width: 960, height: 540 } },
  transform: { heading: 20, plinth: { height: 0.03, margin: 0.05, corner: 0.02 } },
  materials: { parts: [{ path: 'Tern/Head', material: 'walnut' }], variants: [] },
  views: [
    { id: 'a', name: 'Three-quarter', eye: [0.86, 0.46, 1.12], target: [-0.02, 0.215, -0.02], focalLength: 35 },
    { id: 'b', name: 'Elevation', kind: 'parallel', eye: [0, 0.3, 2], target: [0, 0.3, 0], width: 1.2 },
    { id: 'c', name: 'Uprights', eye: [1, 0.5, 1.4], target: [0, 0.2, 0], focalLength: 50, keepVerticals: true },
  ],
  shots: [
    { id: 'stills', kind: 'still', views: ['a', 'b', 'c'] },
    { id: 'spin', name: 'Spin', kind: 'turntable', view: 'a', frames: 24, pivot: 'centre' },
    { id: 'orbit', name: 'Orbit', kind: 'turntable', view: 'a', frames: 12, degrees: 90, turns: ['camera'] },
  ],
});

const model = tern();
const context = { bounds: modelBounds(model), scene: 'tern' };
const frames = planFrames(set, context);

async function load(bytes: Uint8Array) {
  return new GLTFLoader().parseAsync(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer, '');
}

describe('pictures on finishes of one’s own', () => {
  const picture = { width: 4, height: 2, pixels: new Uint8Array(4 * 2 * 4).fill(200) };
  const dressed = parseSet({
    ...set,
    materials: {
      parts: [{ path: 'Tern/Head/Glass shade', material: 'Print' }],
      materials: [{ name: 'Print', colour: '#ffffff', textureFiles: [{ slot: 'base', file: 'print.png', scale: 0.1, mapping: 'box' }] }],
    },
  });
  const dressedFrames = planFrames(dressed, context);

  it('go along, with coordinates by a box where they lie so', async () => {
    const bytes = await exportPlanGlb(dressed, await writeGlb(model), dressedFrames, (file) => {
      expect(file).toBe('print.png');
      return Promise.resolve(picture);
    });
    const report = await validateBytes(bytes);
    expect(report.issues.numErrors).toBe(0);
    const back = await glb.read({ name: 'p.glb', bytes }, [], { unit: 'm', up: 'y' });
    const shade = back.parts.find((p) => p.name === 'Glass shade')!;
    const material = back.materials[shade.primitives[0]!.material]!;
    expect(material.name).toBe('Print');
    const use = material.textures.base!;
    expect(back.textures[use.texture]).toMatchObject({ width: 4, height: 2 });
    // One picture is a tenth of a metre wide, and half as tall.
    expect(use.matrix[0]).toBeCloseTo(10, 5);
    expect(use.matrix[4]).toBeCloseTo(20, 5);
    // On a triangle that looks up, u goes with x and v with z, a unit a metre.
    const mesh = back.meshes[shade.primitives[0]!.mesh]!;
    const size = Math.cbrt(Math.abs(mat4.determinant(shade.world)));
    let checked = 0;
    for (let i = 0; i + 2 < mesh.indices.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => mesh.indices[i + k]!) as [number, number, number];
      const at = (v: number, k: number): number => mesh.positions[v * 3 + k]!;
      const n = [1, 2, 0].map((k) => {
        const l = (k + 1) % 3;
        return (at(b, k) - at(a, k)) * (at(c, l) - at(a, l)) - (at(b, l) - at(a, l)) * (at(c, k) - at(a, k));
      });
      if (!(n[1]! > Math.abs(n[0]!) * 1.01 && n[1]! > Math.abs(n[2]!) * 1.01)) continue;
      for (const v of [a, b, c]) {
        expect(mesh.uvs![v * 2]).toBeCloseTo(at(v, 0) * size, 5);
        expect(mesh.uvs![v * 2 + 1]).toBeCloseTo(at(v, 2) * size, 5);
      }
      checked++;
    }
    expect(checked).toBeGreaterThan(10);
  });

  it('that are not there are named', async () => {
    const missing = exportPlanGlb(dressed, await writeGlb(model), dressedFrames, (file) => Promise.reject(new Error(`no ${file}`)));
    await expect(missing).rejects.toThrow('no print.png');
  });
});

const noPictures = (file: string): Promise<never> => Promise.reject(new Error(`asked for ${file}`));

describe('the plan as GLB', async () => {
  const bytes = await exportPlanGlb(set, await writeGlb(model), frames, noPictures);

  it.each([
    ['Tern', async () => bytes],
    [
      'Northmere',
      async () =>
        exportPlanGlb(
          parseSet(LANDING),
          await writeGlb(northmere()),
          planFrames(parseSet(LANDING), { bounds: modelBounds(northmere()), scene: 'n' }),
          noPictures,
        ),
    ],
    ['a canonical model', async () => writeGlb(northmere())],
  ] as const)('%s has no errors by the validator', async (_, make) => {
    const report = await validateBytes(await make());
    expect(report.issues.messages.filter((m) => m.severity === 0)).toEqual([]);
    expect(report.issues.numErrors).toBe(0);
    expect(report.info.totalTriangleCount).toBeGreaterThan(10_000);
  });

  it("three.js' cameras put points on the pixels of the frames, but for the shift that glTF lacks", async () => {
    const gltf = await load(bytes);
    gltf.scene.updateMatrixWorld(true);
    for (const [name, view] of [
      ['Three-quarter', 'a'],
      ['Elevation', 'b'],
    ] as const) {
      const camera = gltf.cameras.find((c) => c.name === name) as PerspectiveCamera | OrthographicCamera;
      expect(camera instanceof (view === 'b' ? OrthographicCamera : PerspectiveCamera)).toBe(true);
      camera.updateMatrixWorld(true);
      const frame = frames.find((f) => f.view === view)!;
      for (const p of [new Vector3(0, 0, 0), new Vector3(0.2, 0.4, 0.1), new Vector3(-0.2, 0.1, -0.1)]) {
        const seen = p.clone().project(camera);
        const { viewMatrix: v, projectionMatrix: m } = frame.camera;
        const mul = (a: number[], x: Vector4): Vector4 =>
          new Vector4(
            ...([0, 1, 2, 3].map((r) => a[r]! * x.x + a[r + 4]! * x.y + a[r + 8]! * x.z + a[r + 12]! * x.w) as [number, number, number, number]),
          );
        const clip = mul(m, mul(v, new Vector4(p.x, p.y, p.z, 1)));
        expect(((seen.x - clip.x / clip.w) * 960) / 2).toBeCloseTo(0, 2);
        expect(((seen.y - clip.y / clip.w) * 540) / 2).toBeCloseTo(0, 2);
      }
    }
    expect(gltf.cameras.find((c) => c.name === 'Uprights')!.userData).toMatchObject({
      focalLength: 50,
      shift: frames.find((f) => f.view === 'c')!.camera.shift,
    });
  });

  it('leaves still what is context, also where it hangs below the subject', async () => {
    const mixed = tern();
    const base = mixed.parts.findIndex((p) => p.name === 'Base');
    // The base and all below it stand; the rest turns.
    for (const [i, p] of mixed.parts.entries()) if (i === base || mixed.parts[p.parent]?.isContext) p.isContext = true;
    const [below, head] = [mixed.parts.findIndex((p) => p.parent === base), mixed.parts.findIndex((p) => p.name === 'Head')];
    const spin = frames.filter((f) => f.shot === 'spin').map((f) => withFrame(f, { transform: undefined, materials: undefined }));
    const gltf = await load(await exportPlanGlb(set, await writeGlb(mixed), spin, noPictures));
    const groupOf = (index: number): string => {
      const name = mixed.parts[index]!.name.replaceAll(' ', '_');
      let node: Object3D | null = gltf.scene.getObjectByName(name)!;
      const rest = new Matrix4().fromArray(Array.from(mixed.parts[index]!.world));
      gltf.scene.updateMatrixWorld(true);
      expect(new Vector3().setFromMatrixPosition(node.matrixWorld).distanceTo(new Vector3().setFromMatrixPosition(rest))).toBeLessThan(1e-6);
      while (node && !['Subject', 'Surroundings'].includes(node.name)) node = node.parent;
      return node!.name;
    };
    expect([base, below, head].map(groupOf)).toEqual(['Surroundings', 'Surroundings', 'Subject']);
  });

  it('turns the subject about an axis of any direction', async () => {
    const spin = frames.filter((f) => f.shot === 'spin').map((f) => withFrame(f, { turn: { ...f.turn!, axis: [1, 0, 0] } }));
    const gltf = await load(await exportPlanGlb(set, await writeGlb(model), spin, noPictures));
    const track = gltf.animations[0]!.tracks.find((t) => t.name.endsWith('.quaternion'))!;
    for (const i of [5, 11, 23]) {
      expect(track.times[i]).toBeCloseTo(spin[i]!.time, 5);
      const played = new Quaternion().fromArray(track.values, 4 * i);
      const planned = new Quaternion().setFromAxisAngle(new Vector3(1, 0, 0), (spin[i]!.turn!.rotation * Math.PI) / 180);
      expect(played.angleTo(planned)).toBeLessThan(1e-3);
    }
  });

  it('played by three.js, a point of the subject and the camera are where the frames have them', async () => {
    const gltf = await load(bytes);
    expect(gltf.animations.map((a) => a.name)).toEqual(['Spin', 'Orbit']);
    const part = gltf.scene.getObjectByName('Glass_shade') ?? gltf.scene.getObjectByProperty('name', 'Glass shade');
    const at = (clip: string, frame: Frame, object: Object3D): Vector3 => {
      const mixer = new AnimationMixer(gltf.scene);
      const action = mixer.clipAction(gltf.animations.find((a) => a.name === clip)!);
      action.clampWhenFinished = true;
      action.setLoop(LoopOnce, 1).play();
      mixer.setTime(frame.time);
      gltf.scene.updateMatrixWorld(true);
      const place = new Vector3().setFromMatrixPosition(object.matrixWorld);
      mixer.stopAllAction();
      mixer.uncacheRoot(gltf.scene);
      return place;
    };
    const spin = frames.filter((f) => f.shot === 'spin');
    const rest = at('Spin', withFrame(spin[0]!, { time: 0 }), part!);
    const turn = (f: Frame): Vector3 => {
      const m = turnMatrix(f.turn!, f.turn!.rotation) as unknown as number[];
      const q = [0, 1, 2].map((r) => m[r]! * rest.x + m[r + 4]! * rest.y + m[r + 8]! * rest.z + m[r + 12]!);
      return new Vector3(...(q as [number, number, number]));
    };
    for (const i of [5, 11, 23]) expect(at('Spin', spin[i]!, part!).distanceTo(turn(spin[i]!))).toBeLessThan(1e-6);
    const orbit = frames.filter((f) => f.shot === 'orbit');
    const camera = gltf.scene.getObjectByName('Orbit')!;
    for (const i of [0, 4, 11]) expect(at('Orbit', orbit[i]!, camera).distanceTo(new Vector3(...orbit[i]!.camera.eye))).toBeLessThan(1e-6);
  });

  it('our own reader offers its cameras as the views they were, and finds what is worn', async () => {
    const read = await glb.read({ name: 'plan.glb', bytes }, [], { unit: 'm', up: 'y' });
    const views = importedCameras(read, modelBounds(read));
    const [a, b] = [views.find((v) => v.name === 'Three-quarter')!, views.find((v) => v.name === 'Elevation')!];
    expect(a.focalLength).toBeCloseTo(35, 3);
    a.eye.forEach((c, i) => expect(c).toBeCloseTo(set.views[0]!.eye[i]!, 5));
    expect(b).toMatchObject({ kind: 'parallel', width: 1.2 });
    expect(read.materials.map((f) => f.name)).toContain('walnut');
    expect(read.parts.some((p) => p.name === 'Plinth')).toBe(true);
  });
});

/** FBX of both kinds, written record by record here: sizes, tree, names, colours, pictures, and what is left out said. */
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { readModel } from '../../src/formats/formats.js';
import { importedCameras } from '../../src/core/model/importedCameras.js';
import { modelBounds } from '../../src/core/model/model.js';
import { fbxBinary, type FbxOptions, fbxText } from '../support/fbx.js';
import { close, measure, size } from '../support/solids.js';

const KINDS = [
  ['text', fbxText],
  ['binary', fbxBinary],
] as const;
const INCHES: FbxOptions = { size: [20, 30, 50], unit: 2.54, upAxis: 2 };
const read = (bytes: Uint8Array, beside: { name: string; bytes: Uint8Array }[] = []) =>
  readModel([{ name: 'roof.fbx', bytes }, ...beside], { unit: 'm', up: 'y' });
const red = (): Promise<Buffer> =>
  sharp({ create: { width: 6, height: 4, channels: 3, background: '#ff0000' } })
    .png()
    .toBuffer();

describe.each(KINDS)('FBX as %s', (_, write) => {
  it('has the size, the tree, the names and the colours that it says', async () => {
    const model = await read(write(INCHES));
    // z is up in the file, y here; an inch is 2.54 cm.
    close(size(model), [20 * 0.0254, 50 * 0.0254, 30 * 0.0254]);
    expect(measure(model).volume).toBeCloseTo(20 * 30 * 50 * 0.0254 ** 3, 6);
    expect(modelBounds(model).min[0]).toBeCloseTo(10 * 0.0254, 6);
    expect(model.parts.map((p) => p.path)).toEqual(
      expect.arrayContaining(['roof/Landing', 'roof/Landing/Kiosk roof', 'roof/From the quay', 'roof/Ceiling lamp']),
    );
    const [paint, pane] = model.materials;
    expect(paint!.name).toBe('Red paint');
    // 0.8 and 0.1 as sRGB (IEC 61966-2-1).
    close(paint!.base, [0.6038, 0.01002, 0.01002], 3);
    expect(pane).toMatchObject({ name: 'Pane', transmission: 1, thin: true });
    const triangles = new Map<string, number>();
    for (const part of model.parts)
      for (const p of part.primitives) {
        const { name } = model.materials[p.material]!;
        triangles.set(name, (triangles.get(name) ?? 0) + model.meshes[p.mesh]!.indices.length / 3);
      }
    expect([...triangles]).toEqual([
      ['Red paint', 10],
      ['Pane', 2],
    ]);
    expect(model.warnings).toEqual(['1 light left out: "Ceiling lamp". Add lights on the Stage step.']);
  });

  it('has millimetres with +Y up too', async () => {
    close(size(await read(write({ size: [20, 30, 50], unit: 0.1, upAxis: 1 }))), [0.02, 0.03, 0.05]);
  });

  it('offers its camera, which looks along +X of its own', async () => {
    const model = await read(write({ ...INCHES, upAxis: 1 }));
    const [view] = importedCameras(model, modelBounds(model), () => {});
    expect(view!.name).toBe('From the quay');
    close(view!.eye, [-2.54, 0, 0]);
    const [dx, dy, dz] = view!.target.map((v, i) => v - view!.eye[i]!) as [number, number, number];
    expect(dx).toBeGreaterThan(0);
    expect(Math.hypot(dy, dz)).toBeLessThan(1e-6 * dx);
  });

  it('has the picture that is in it, and the one that was given beside it; one that was not is named', async () => {
    const bytes = await red();
    const inside = await read(write({ ...INCHES, picture: { name: 'tiles.png', bytes } }));
    const beside = await read(write({ ...INCHES, picture: { name: 'tiles.png', bytes: null } }), [{ name: 'Tiles.PNG', bytes }]);
    for (const model of [inside, beside]) {
      expect(model.textures.map((t) => [t.width, t.height, [...t.pixels.slice(0, 4)]])).toEqual([[6, 4, [255, 0, 0, 255]]]);
      expect(model.materials[0]!.textures?.base?.texture).toBe(0);
    }
    const lost = await read(write({ ...INCHES, picture: { name: 'tiles.png', bytes: null } }));
    expect(lost.warnings).toContainEqual(expect.stringContaining('The texture "tiles.png" of the material "Red paint" was not given'));
  });

  it('is refused by name where it is cut short, or is none', async () => {
    const bytes = write(INCHES);
    await expect(read(bytes.subarray(0, Math.floor(bytes.length / 3)))).rejects.toThrow('"roof.fbx"');
    await expect(read(new TextEncoder().encode('no such thing'))).rejects.toThrow('"roof.fbx" is no FBX file');
  });
});

it('of an old version says so', async () => {
  const old = fbxBinary(INCHES);
  new DataView(old.buffer).setUint32(23, 6100, true);
  await expect(read(old)).rejects.toThrow('"roof.fbx" is FBX 6.1 as binary, which is too old. Export it as binary FBX 7.4 or later.');
  const text = new TextEncoder().encode(new TextDecoder().decode(fbxText(INCHES)).replace('FBXVersion: 7400', 'FBXVersion: 6100'));
  await expect(read(text)).rejects.toThrow('is FBX 6.1 as text');
});

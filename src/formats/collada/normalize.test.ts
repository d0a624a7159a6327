import { afterEach, describe, expect, it, vi } from 'vitest';
import { readModel } from '../formats.js';

const FOUR = '0 0 0 1 0 0 1 1 0 0 1 0';
/** A document whose one geometry has four corners of a square and these primitives. */
const document = (
  primitives: string,
  { head = '<asset><unit meter="1"/><up_axis>Y_UP</up_axis></asset>', places = FOUR, more = '' } = {},
): string => `
<?xml version="1.0"?><COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1">${head}${more}
<library_geometries><geometry id="g"><mesh>
<source id="s"><float_array id="a" count="12">${places}</float_array>
<technique_common><accessor source="#a" count="4" stride="3"><param name="X" type="float"/><param name="Y" type="float"/><param name="Z" type="float"/></accessor></technique_common></source>
<vertices id="v"><input semantic="POSITION" source="#s"/></vertices>${primitives}
</mesh></geometry></library_geometries>
<library_visual_scenes><visual_scene id="w"><node id="n" name="Square"><instance_geometry url="#g"/></node></visual_scene></library_visual_scenes>
<scene><instance_visual_scene url="#w"/></scene></COLLADA>`;
const list = (kind: string, ...ps: string[]): string =>
  `<${kind} count="${ps.length}"><input semantic="VERTEX" source="#v" offset="0"/>${ps.map((p) => `<p>${p}</p>`).join('')}</${kind}>`;
const read = (text: string) => readModel([{ name: 'a.dae', bytes: new TextEncoder().encode(text.trim()) }], { unit: 'm', up: 'y' });

/** Triangles by the places of their corners, each turned so that its least corner comes first. */
async function triangles(text: string): Promise<string[]> {
  const { meshes } = await read(text);
  return meshes
    .flatMap(({ positions, indices }) =>
      Array.from({ length: indices.length / 3 }, (_, t) => {
        const corners = [0, 1, 2].map((k) => [...positions.subarray(indices[t * 3 + k]! * 3, indices[t * 3 + k]! * 3 + 2)].join(','));
        const first = corners.indexOf([...corners].sort()[0]!);
        return [0, 1, 2].map((k) => corners[(first + k) % 3]).join(' ');
      }),
    )
    .sort();
}

describe('a Collada document', () => {
  afterEach(() => vi.restoreAllMocks());

  it.each([
    ['a strip', list('tristrips', '0 1 3 2')],
    ['a fan', list('trifans', '1 2 3 0')],
    ['polygons, every one of them', list('polygons', '0 1 3', '1 2 3')],
  ])('%s becomes triangles, all the same way round', async (_, primitives) => {
    const made = await triangles(document(primitives));
    expect(made).toHaveLength(2);
    const area = made.map((t) => {
      const [a, b, c] = t.split(' ').map((p) => p.split(',').map(Number)) as [number[], number[], number[]];
      return ((b[0]! - a[0]!) * (c[1]! - a[1]!) - (c[0]! - a[0]!) * (b[1]! - a[1]!)) / 2;
    });
    // Counter-clockwise seen from +Z, half a square metre each.
    for (const a of area) expect(a).toBeCloseTo(0.5, 9);
  });

  it('lines come along as parts of their own, out of picture', async () => {
    const { curves, parts } = await read(document(list('polygons', '0 1 2 3') + list('linestrips', '0 1 2', '2 3')));
    expect(curves).toHaveLength(1);
    expect(curves[0]!.points).toEqual([0, 0, 0, 1, 0, 0, 1, 0, 0, 1, 1, 0, 1, 1, 0, 0, 1, 0]);
    expect(parts[curves[0]!.part]!.renderVisible).toBe(false);
  });

  it('decimal commas, as some writers put them, are read', async () => {
    const text = document(list('polygons', '0 1 2 3'), {
      head: '<asset><unit meter="0,01"/><up_axis>Y_UP</up_axis></asset>',
      places: FOUR.replaceAll('1', '1,5'),
    });
    const { meshes, parts } = await read(text);
    expect(Math.max(...meshes[0]!.positions)).toBe(1.5);
    expect(parts[0]!.place.scale[0]).toBeCloseTo(0.01, 9);
  });

  it.each(['nan', '1e999'])('a coordinate that is %s is no reason to drop triangles silently', async (bad) => {
    await expect(read(document(list('polygons', '0 1 2 3'), { places: FOUR.replace('1', bad) }))).rejects.toThrow('coordinate that is not a number');
  });

  it.each(['http://127.0.0.1:9/a.tga', 'file:///etc/passwd', '../x.jpg', 'a.tga'])('no picture is fetched: %s', async (address) => {
    const fetched = vi.spyOn(globalThis, 'fetch').mockRejectedValue(new Error('nothing is fetched'));
    const more = `<library_images><image id="i"><init_from>${address}</init_from></image></library_images>
<library_effects><effect id="e"><profile_COMMON><newparam sid="f"><surface type="2D"><init_from>i</init_from></surface></newparam>
<newparam sid="p"><sampler2D><source>f</source></sampler2D></newparam>
<technique sid="t"><lambert><diffuse><texture texture="p" texcoord="UV"/></diffuse></lambert></technique></profile_COMMON></effect></library_effects>
<library_materials><material id="m" name="Oak"><instance_effect url="#e"/></material></library_materials>`;
    const text = document(list('polygons', '0 1 2 3').replace('<polygons', '<polygons material="M"'), { more }).replace(
      '<instance_geometry url="#g"/>',
      '<instance_geometry url="#g"><bind_material><technique_common><instance_material symbol="M" target="#m"/></technique_common></bind_material></instance_geometry>',
    );
    const model = await read(text);
    expect(fetched).not.toHaveBeenCalled();
    expect(model.warnings.join(' ')).toContain(`The texture "${address}" of the material "Oak" was not given`);
  });
});

/**
 * USD as it is put together: references, instances, variants, layers under layers. What is expected follows from the AOUSD Core
 * Specification 1.0 and the UsdGeom schemas (from memory); each file is written here.
 */
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { modelBounds, triangleCount } from '../../src/core/model/model.js';
import type { Model } from '../../src/core/model/model.js';
import { readModel } from '../../src/formats/formats.js';

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const read = (text: string, beside: Record<string, string | Uint8Array> = {}, name = 'scene.usda'): Promise<Model> =>
  readModel(
    [{ name, bytes: bytesOf(text) }, ...Object.entries(beside).map(([n, b]) => ({ name: n, bytes: typeof b === 'string' ? bytesOf(b) : b }))],
    { unit: 'm', up: 'y' },
  );

/** A unit square in the ground plane, with its corner in the origin. */
const square = (name: string, more = ''): string => `
def Mesh "${name}" {
  int[] faceVertexCounts = [4]
  int[] faceVertexIndices = [0, 1, 2, 3]
  point3f[] points = [(0, 0, 0), (0, 0, 1), (1, 0, 1), (1, 0, 0)]
  ${more}
}`;
const HEAD = '#usda 1.0\n(\n  defaultPrim = "Top"\n  metersPerUnit = 1\n  upAxis = "Y"\n)\n';
const namesOf = (model: Model): string[] => model.parts.map((p) => p.name);
const boxOf = (model: Model): [number[], number[]] => {
  const { min, max } = modelBounds(model);
  return [min.map((v) => Math.round(v * 1e4) / 1e4 + 0), max.map((v) => Math.round(v * 1e4) / 1e4 + 0)];
};

describe('the text of a layer', () => {
  it('is read on one line or on many, with comments, quotes of all kinds and metadata in between', async () => {
    const model = await read(
      `#usda 1.0\n( doc = """on ( two\nlines""" metersPerUnit = 0.01; upAxis = 'Y' customLayerData = { string a = "}" dictionary b = { int c = 1 } } )\n` +
        `/* a block { */ def Xform "Top" ( kind = "component"; assetInfo = { string name = "x" } ) { # { \n` +
        `  double3 xformOp:translate = (100, 0, 0) ( doc = "moved" ) uniform token[] xformOpOrder = ["xformOp:translate"]` +
        square('Plate', 'float2[] primvars:st = [(0,0),(0,1),(1,1),(1,0)] ( interpolation = "vertex" )') +
        ' }',
    );
    expect(namesOf(model)).toEqual(['scene', 'Top', 'Plate']);
    expect(boxOf(model)).toEqual([
      [1, 0, 0],
      [1.01, 0, 0.01],
    ]);
  });

  it('says the line that cannot be read, and where it ends too early', async () => {
    await expect(read(`${HEAD}def Xform "Top" {\n  float a = = 1\n}`)).rejects.toThrow('"scene.usda" is damaged: line 8 is not valid USD.');
    await expect(read(`${HEAD}def Xform "Top" {\n`)).rejects.toThrow('it ends too early, in line 8');
    await expect(read(`${HEAD}${'def Xform "A" {'.repeat(3000)}`)).rejects.toThrow('"scene.usda" is damaged');
  });
});

describe('references', () => {
  it('within a file bring the prim with its own place under the one that refers to it', async () => {
    const model = await read(
      `${HEAD}class "Pattern" {${square('Plate')}}
      def Xform "Top" {
        def Xform "One" ( references = </Pattern> ) { }
        def Xform "Two" ( prepend references = </Pattern> instanceable = true ) {
          double3 xformOp:translate = (3, 0, 0)
          uniform token[] xformOpOrder = ["xformOp:translate"]
        }
      }`,
    );
    expect(namesOf(model)).toEqual(['scene', 'Top', 'One', 'Plate', 'Two', 'Plate']);
    expect(boxOf(model)).toEqual([
      [0, 0, 0],
      [4, 0, 1],
    ]);
    expect(model.warnings).toEqual([]);
  });

  it('and payloads between files lead to the prim that is named, else to the default one; stronger opinions win', async () => {
    const part = `${HEAD}def Xform "Top" {${square('Plate')}}\ndef Xform "Other" {${square('Disc')}}`;
    const model = await read(
      `${HEAD}def Xform "Top" {
        def "A" ( references = @./parts/part.usda@ ) {
          over "Plate" { double3 xformOp:translate = (0, 2, 0) uniform token[] xformOpOrder = ["xformOp:translate"] }
        }
        def "B" ( payload = @parts/part.usda@</Other> ) { }
        def "C" ( references = [@gone.usda@, @parts/part.usda@</Nowhere>] ) { }
      }`,
      { 'part.usda': part },
    );
    expect(namesOf(model)).toEqual(['scene', 'Top', 'A', 'Plate', 'B', 'Disc', 'C']);
    expect(boxOf(model)[1]).toEqual([1, 2, 1]);
    expect(model.warnings).toEqual([
      'Layers that were not given with the model: "gone.usda". Give them beside it, or export one file.',
      'References that lead nowhere: "/Nowhere".',
    ]);
  });

  it('lead on from file to file in an archive, by the folder that each is in, with materials and images', async () => {
    const red = await sharp({ create: { width: 4, height: 4, channels: 3, background: '#ff0000' } })
      .png()
      .toBuffer();
    const look = (image: string): string =>
      `def Material "Paint" {
        token outputs:surface.connect = <S.outputs:surface>
      }`
        .replace('<S', `</Top/Looks/Paint/S`)
        .replace(
          /\}$/,
          `
        def Shader "S" {
          uniform token info:id = "UsdPreviewSurface"
          color3f inputs:diffuseColor.connect = </Top/Looks/Paint/T.outputs:rgb>
          float inputs:roughness = 0.3
          token outputs:surface
        }
        def Shader "T" {
          uniform token info:id = "UsdUVTexture"
          asset inputs:file = @${image}@
          float3 outputs:rgb
        }
      }`,
        );
    const deep = `${HEAD}def Xform "Top" {${square('Plate', 'float2[] primvars:st = [(0,0),(0,1),(1,1),(1,0)] ( interpolation = "vertex" )\n rel material:binding = </Top/Looks/Paint>')}
      def Scope "Looks" { ${look('../maps/red.png')} } }`;
    const zip = zipSync(
      {
        'scene.usda': bytesOf(`${HEAD}def Xform "Top" { def "Lamp" ( references = @sub/mid.usda@ ) { } }`),
        'sub/mid.usda': bytesOf(`${HEAD}def Xform "Top" { def "Base" ( references = @deep/part.usda@ ) { } }`),
        'sub/deep/part.usda': bytesOf(deep),
        'sub/maps/red.png': red,
      },
      { level: 0 },
    );
    const model = await readModel([{ name: 'set.usdz', bytes: zip }], { unit: 'm', up: 'y' });
    expect(model.parts.map((p) => p.path)).toContain('set/Top/Lamp/Base/Plate');
    expect(model.warnings).toEqual([]);
    const material = model.materials[model.parts.find((p) => p.name === 'Plate')!.primitives[0]!.material]!;
    expect([material.name, material.roughness, model.textures.length, material.textures.base?.texture]).toEqual(['Paint', 0.3, 1, 0]);
  });

  it('are begun at the file that no other refers to, whichever was given first; a further model is named', async () => {
    const files = [
      { name: 'a-part.usda', bytes: bytesOf(`${HEAD}def Xform "Top" {${square('Plate')}}`) },
      { name: 'scene.usda', bytes: bytesOf(`${HEAD}def Xform "Top" { def "A" ( references = @a-part.usda@ ) { } }`) },
      { name: 'other.obj', bytes: bytesOf('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n') },
    ];
    const zip = zipSync(Object.fromEntries(files.slice(0, 2).map((f) => [`set/${f.name}`, f.bytes])));
    expect(namesOf(await readModel([{ name: 'set.zip', bytes: zip }], {}))).toEqual(['scene', 'Top', 'A', 'Plate']);
    const model = await readModel(files, {});
    expect([model.name, namesOf(model)]).toEqual(['scene', ['scene', 'Top', 'A', 'Plate']]);
    expect(model.warnings).toEqual(['One model is imported at a time. Left out: "other.obj".']);
  });

  it('that go round in a circle end, and are told of', async () => {
    const model = await read(`${HEAD}def Xform "Top" {${square('Plate')}\n def Xform "In" ( references = </Top> ) { } }`);
    expect(model.warnings).toContain('References that go round in circles are left out.');
  });
});

describe('layers, variants and classes', () => {
  it('under a layer are weaker than it', async () => {
    const model = await read(
      `#usda 1.0\n( subLayers = [@under.usda@] upAxis = "Y" metersPerUnit = 1 )\nover "Top" { over "Plate" { point3f[] points = [(0,0,0),(0,0,2),(2,0,2),(2,0,0)] } }`,
      { 'under.usda': `${HEAD}def Xform "Top" {${square('Plate')}}` },
    );
    expect([namesOf(model), boxOf(model)[1]]).toEqual([
      ['scene', 'Top', 'Plate'],
      [2, 0, 2],
    ]);
  });

  it('are shown in the variant that is chosen, where it is referred to before where it stands', async () => {
    const lamp = `${HEAD}def Xform "Top" ( variants = { string size = "small" } prepend variantSets = "size" ) {
      variantSet "size" = {
        "small" {${square('Small')}}
        "large" ( references = </Big> ) { }
      }
    }
    class "Big" {${square('Large')}}`;
    expect(namesOf(await read(lamp))).toEqual(['scene', 'Top', 'Small']);
    const chosen = `${HEAD}def Xform "Top" { def "Lamp" ( references = @lamp.usda@ variants = { string size = "large" } ) { } }`;
    expect(namesOf(await read(chosen, { 'lamp.usda': lamp }))).toEqual(['scene', 'Top', 'Lamp', 'Large']);
  });

  it('at times hide what a weaker layer says for all times', async () => {
    const model = await read(
      `#usda 1.0\n( subLayers = [@under.usda@] upAxis = "Y" metersPerUnit = 1 )\nover "Top" { double3 xformOp:translate.timeSamples = { 0: (5, 0, 0), 24: (9, 0, 0) } }`,
      {
        'under.usda': `${HEAD}def Xform "Top" { double3 xformOp:translate = (1, 0, 0) uniform token[] xformOpOrder = ["xformOp:translate"] ${square('Plate')} }`,
      },
    );
    expect(boxOf(model)[0]).toEqual([5, 0, 0]);
  });

  it('that are inherited give what the prim itself does not say', async () => {
    const model = await read(
      `${HEAD}class "Look" { color3f[] primvars:displayColor = [(1, 0, 0)] }
       def Xform "Top" {${square('Plate').replace('"Plate" {', '"Plate" ( inherits = </Look> ) {')}}`,
    );
    expect(model.materials[model.parts.at(-1)!.primitives[0]!.material]!.base).toEqual([1, 0, 0]);
  });
});

describe('what a file shows', () => {
  it('keeps hidden prims, guides and proxies out of renders, with what is below them', async () => {
    const model = await read(
      `${HEAD}def Xform "Top" {
        def Xform "Off" { token visibility = "invisible" ${square('In')} }
        def Xform "Help" { uniform token purpose = "guide" ${square('Axis')} }
        def Xform "Shown" { uniform token purpose = "render" ${square('Plate')} }
        def Xform "Gone" ( active = false ) {${square('Never')}}
      }`,
    );
    expect(model.parts.map((p) => [p.name, p.renderVisible])).toEqual([
      ['scene', true],
      ['Top', true],
      ['Off', false],
      ['In', false],
      ['Help', false],
      ['Axis', false],
      ['Shown', true],
      ['Plate', true],
    ]);
    expect(model.warnings).toEqual(['2 hidden prims of the file, with what is below, not rendered.']);
  });

  it('places instances by position, turn and size, and shares their mesh', async () => {
    const model = await read(
      `${HEAD}def Xform "Top" {
        def PointInstancer "Field" {
          rel prototypes = [</Top/Field/Kinds/A>, </Top/Field/Kinds/B>]
          int[] protoIndices = [0, 1, 0, 0]
          point3f[] positions = [(0, 0, 0), (10, 0, 0), (20, 0, 0), (30, 0, 0)]
          quath[] orientations = [(1, 0, 0, 0), (1, 0, 0, 0), (0.7071068, 0, -0.7071068, 0), (1, 0, 0, 0)]
          float3[] scales = [(1, 1, 1), (1, 1, 1), (2, 2, 2), (1, 1, 1)]
          int64[] invisibleIds = [3]
          over "Kinds" { def Xform "A" {${square('Plate')}} def Xform "B" {${square('Disc')}} }
        }
      }`,
    );
    expect(namesOf(model).filter((n) => /\d$/.test(n))).toEqual(['A 1', 'B 2', 'A 3']);
    expect(triangleCount(model)).toBe(6);
    expect(model.meshes).toHaveLength(2);
    // A turn of −90° about +Y takes +Z to −X, and +X to +Z (right hand).
    expect(boxOf(model)).toEqual([
      [0, 0, 0],
      [20, 0, 2],
    ]);
  });

  it('has colours and clearness of their own where it has no material, and lines', async () => {
    const model = await read(
      `${HEAD}def Xform "Top" {
        ${square('Clear', 'color3f[] primvars:displayColor = [(0.2, 0.4, 0.6)] float[] primvars:displayOpacity = [0.25]')}
        ${square('Many', 'color3f[] primvars:displayColor = [(1, 0, 0), (0, 1, 0), (0, 0, 1), (1, 1, 1)] ( interpolation = "vertex" )')}
        def BasisCurves "Edge" {
          uniform token type = "linear"
          int[] curveVertexCounts = [3]
          point3f[] points = [(0, 0, 0), (1, 0, 0), (1, 0, 1)]
        }
        def BasisCurves "Bow" { int[] curveVertexCounts = [4] point3f[] points = [(0,0,0),(1,0,0),(1,0,1),(0,0,1)] }
        def SphereLight "Bulb" { float inputs:intensity = 5 }
        def DomeLight "Sky" { }
        def Points "Dust" { point3f[] points = [(0, 0, 0)] }
        def Xform "Fan" { double xformOp:rotateY.timeSamples = { 0: 0, 24: 90 } uniform token[] xformOpOrder = ["xformOp:rotateY"] }
      }`,
    );
    const of = (name: string) => model.materials[model.parts.find((p) => p.name === name)!.primitives[0]!.material]!;
    expect(of('Clear')).toMatchObject({ transmission: 1, thin: true });
    expect(of('Many').base).toEqual([1, 0, 0]);
    expect(model.curves.map((c) => c.points)).toEqual([[0, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 1]]);
    expect(model.warnings).toEqual([
      'Left out: 1 DomeLight, 1 SphereLight, 1 Points, 1 BasisCurves that are not straight.',
      '1 animation left out; the model keeps its initial pose.',
      'Of the colours by vertex or face only the first is rendered: "Many".',
    ]);
  });
});

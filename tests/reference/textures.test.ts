/**
 * Textures of every slot against factors: one even texel must do what the factor does. Channels and colour spaces are those
 * of the Khronos specifications of glTF 2.0, KHR_materials_specular, _clearcoat, _sheen, _anisotropy, _diffuse_transmission.
 */
import { describe, expect, it } from 'vitest';
import { DEFAULT_MATERIAL, type Material, type Mesh, type TextureSlot, type TextureUse } from '../../src/core/model/model.js';
import type { Rgb } from '../../src/core/units/colour.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { glb } from '../../src/formats/glb/format.js';
import { MeshMaker, modelOf } from '../../src/core/model/meshMaker.js';
import { BLACK, trace, WHITE } from '../support/trace.js';

const use = (mapping: TextureUse['mapping'] = 'first', matrix: TextureUse['matrix'] = [1, 0, 0, 0, 1, 0]): TextureUse => ({
  texture: 0,
  matrix,
  mapping,
});
const texture = (width: number, height: number, pixels: number[]) => ({
  name: 't',
  width,
  height,
  pixels: Uint8Array.from(pixels),
  wrapU: 'repeat' as const,
  wrapV: 'repeat' as const,
});

/** A square facing +Z, u along +X and v down. */
function square(): Mesh {
  const mesh = new MeshMaker().quad([-1, -1, 0], [2, 0, 0], [0, 2, 0]).mesh();
  mesh.uvs = Float32Array.from([0, 1, 1, 1, 0, 0, 1, 0]);
  return mesh;
}

/** Light of a lamp from the right, a little above, off the square: one number a channel. */
function lit(material: Partial<Material>, texel?: number[]): number[] {
  const model = modelOf('t', [{ mesh: square(), material }]);
  const rectangle = {
    kind: 'rectangle' as const,
    centre: [3, 1, 3] as Rgb,
    u: [-0.6, 0, 0.6] as Rgb,
    v: [-0.3, 0.6, -0.3] as Rgb,
    radiance: [20, 20, 20] as Rgb,
  };
  const picture = trace(texel ? { ...model, textures: [texture(1, 1, texel)] } : model, {
    eye: [-1.5, 0.4, 4],
    target: [0, 0, 0],
    focalLength: 80,
    samples: 64,
    bounces: 2,
    stage: { environment: BLACK, lights: [rectangle] },
  });
  const sums = [0, 0, 0];
  for (let i = 0; i < picture.colour.length; i++) sums[i % 3]! += picture.colour[i]!;
  return sums.map((s) => s / (picture.colour.length / 3));
}

// IEC 61966-2-1: byte 188 is 0.5029 in linear light.
const SRGB_188 = 0.50289;
const HALF = 128 / 255;
const shiny = { base: [0.2, 0.1, 0.05] as Rgb, roughness: 0.4 };

describe('a texture of one texel does what its factor does', () => {
  const cases: [TextureSlot, Partial<Material>, number[], Partial<Material>][] = [
    ['specular', { ...shiny, specular: 0.8 }, [255, 255, 255, 128], { specular: 0.8 * HALF }],
    ['specularColour', { ...shiny, specularColour: [1, 0.5, 1] }, [188, 255, 0, 255], { specularColour: [SRGB_188, 0.5, 0] }],
    ['coat', { ...shiny, coat: 1, coatRoughness: 0.3 }, [128, 0, 0, 255], { coat: HALF }],
    ['coatRoughness', { ...shiny, coat: 1, coatRoughness: 0.8 }, [0, 128, 255, 255], { coatRoughness: 0.8 * HALF }],
    ['sheen', { ...shiny, sheen: [1, 1, 0.5], sheenRoughness: 0.5 }, [0, 188, 0, 255], { sheen: [0, SRGB_188, 0] }],
    ['sheenRoughness', { ...shiny, sheen: [1, 1, 1], sheenRoughness: 0.9 }, [255, 255, 255, 128], { sheenRoughness: 0.9 * HALF }],
    ['translucency', { base: [0.8, 0.8, 0.8], translucency: 1 }, [0, 0, 0, 128], { translucency: HALF }],
    // Half red and green around zero: the direction is +u but for 1/255; blue is the strength.
    [
      'anisotropy',
      { base: [1, 1, 1], metalness: 1, roughness: 0.5, anisotropy: 1 },
      [255, 128, 128, 255],
      { anisotropy: HALF, anisotropyAngle: Math.atan2(1, 255) },
    ],
    [
      'anisotropy',
      { base: [1, 1, 1], metalness: 1, roughness: 0.5, anisotropy: 1 },
      [128, 255, 255, 255],
      { anisotropy: 1, anisotropyAngle: Math.atan2(255, 1) },
    ],
  ];
  it.each(cases)('%s', (slot, material, texel, factors) => {
    const textured = lit({ ...material, textures: { [slot]: use() } }, texel);
    const plain = lit({ ...material, ...factors });
    const without = lit(material);
    // The same paths are drawn, so only the bytes' steps and single precision are between them.
    plain.forEach((v, c) => expect(Math.abs(textured[c]! - v)).toBeLessThan(2e-4 * Math.max(1, v)));
    expect(Math.hypot(...without.map((v, c) => v - plain[c]!))).toBeGreaterThan(1e-3);
  });

  it('the colour of light that passes a leaf is sRGB', () => {
    const behind = (material: Partial<Material>, texel?: number[]): number[] => {
      const model = modelOf('leaf', [{ mesh: square(), material: { base: [0.5, 0.5, 0.5], specular: 0, translucency: 1, ...material } }]);
      const sun = { kind: 'sun' as const, direction: [0, 0, 1] as Rgb, radius: 0, irradiance: [Math.PI, Math.PI, Math.PI] as Rgb };
      const textured = texel ? { ...model, textures: [texture(1, 1, texel)] } : model;
      return [
        ...trace(textured, { eye: [0, 0, 4], target: [0, 0, 0], focalLength: 100, samples: 4, bounces: 1, stage: { lights: [sun] } }).colour.slice(
          0,
          3,
        ),
      ];
    };
    const green = behind({ textures: { translucentColour: use() } }, [188, 255, 0, 255]);
    const plain = behind({ translucentColour: [SRGB_188, 1, 0] });
    green.forEach((v, c) => expect(v).toBeCloseTo(plain[c]!, 4));
    expect(plain[1]).toBeGreaterThan(0.3);
  });

  it('an angle of brushing counts counterclockwise in the picture, mirrored or not', () => {
    const brushed: Partial<Material> = { base: [1, 1, 1], metalness: 1, roughness: 0.5, anisotropy: 1, anisotropyAngle: 0.6 };
    const mirrored = square();
    // u grows to the left: seen from the front, +0.6 from the texture's u is then -0.6 from the left.
    mirrored.uvs = Float32Array.from([1, 1, 0, 1, 1, 0, 0, 0]);
    const of = (mesh: Mesh, material: Partial<Material>): number => {
      const sun = { kind: 'sun' as const, direction: [-0.3, -0.5, -0.8] as Rgb, radius: 0, irradiance: [3, 3, 3] as Rgb };
      return trace(modelOf('b', [{ mesh, material }]), {
        eye: [0.5, 1.2, 4],
        target: [0, 0, 0],
        focalLength: 100,
        samples: 16,
        bounces: 1,
        stage: { lights: [sun] },
      }).mean();
    };
    expect(of(mirrored, brushed)).toBeCloseTo(of(square(), { ...brushed, anisotropyAngle: -0.6 }), 5);
    expect(Math.abs(of(square(), brushed) - of(square(), { ...brushed, anisotropyAngle: -0.6 }))).toBeGreaterThan(0.01);
  });
});

describe('a coat over a bent surface (KHR_materials_clearcoat)', () => {
  const lacquer = { base: BLACK.top, specular: 0, coat: 1, coatRoughness: 0.3 };
  const sun = { kind: 'sun' as const, direction: [-0.6, 0, -0.8] as Rgb, radius: 0, irradiance: [1, 1, 1] as Rgb };
  /** What a spot in the middle sends to an eye straight in front, of a square turned about the vertical. */
  const spot = (material: Partial<Material>, texel?: number[], turned = 0): number => {
    const c = Math.cos(turned);
    const s = Math.sin(turned);
    const mesh = new MeshMaker().quad([-c, -1, s], [2 * c, 0, -2 * s], [0, 2, 0]).mesh();
    mesh.uvs = Float32Array.from([0, 1, 1, 1, 0, 0, 1, 0]);
    const model = modelOf('t', [{ mesh, material }]);
    return trace(texel ? { ...model, textures: [texture(1, 1, texel)] } : model, {
      eye: [0, 0, 4],
      target: [0, 0, 0],
      focalLength: 1200,
      width: 16,
      height: 16,
      samples: 4,
      bounces: 1,
      stage: { environment: BLACK, lights: [sun] },
    }).mean();
  };
  // The texel's own normal, since bytes are steps.
  const texel = [179, 128, 243, 255];
  const bent = Math.atan2(texel[0]! * 2 - 255, texel[2]! * 2 - 255);

  it('shines as a surface turned that way does, where it has a normal of its own', () => {
    const own = spot({ ...lacquer, textures: { coatNormal: use() } }, texel);
    const turned = spot(lacquer, undefined, bent);
    expect(bent).toBeGreaterThan(0.35);
    expect(own / turned).toBeCloseTo(1, 2);
    expect(spot(lacquer) / turned).toBeLessThan(0.5);
  });

  it('lies smoothly over it where it has none', () => {
    expect(spot({ ...lacquer, textures: { normal: use() } }, texel) / spot(lacquer)).toBeCloseTo(1, 2);
  });

  it('gives no more light than comes in', () => {
    const model = modelOf('t', [{ mesh: square(), material: { ...lacquer, base: [1, 1, 1], coatRoughness: 0.1, textures: { coatNormal: use() } } }]);
    const view = { eye: [0, 0, 4] as Rgb, target: [0, 0, 0] as Rgb, focalLength: 200, samples: 256, stage: { environment: WHITE } };
    const mean = trace({ ...model, textures: [texture(1, 1, texel)] }, view).mean();
    expect(mean).toBeGreaterThan(0.9);
    expect(mean).toBeLessThan(1.01);
  });

  it('comes and goes by GLB', async () => {
    const model = modelOf('t', [{ mesh: square(), material: { ...lacquer, coatNormalScale: 0.5, textures: { coatNormal: use() } } }]);
    const read = await glb.read({ name: 't.glb', bytes: await writeGlb({ ...model, textures: [texture(1, 1, texel)] }) }, [], { unit: 'm', up: 'y' });
    expect(read.warnings).toEqual([]);
    expect(read.materials[0]).toMatchObject({ coatNormalScale: 0.5, textures: { coatNormal: use() } });
  });
});

describe('where a texture lies', () => {
  // Left half black, right half white.
  const halves = texture(2, 1, [0, 0, 0, 255, 255, 255, 255, 255]);
  const look = { eye: [0, 0, 4] as Rgb, target: [0, 0, 0] as Rgb, focalLength: 100, width: 64, height: 64, samples: 16, bounces: 1 };

  it('by the second set of coordinates, which GLB carries', async () => {
    const mesh = square();
    mesh.secondUvs = Float32Array.from([0.75, 1, 0.75, 1, 0.75, 0, 0.75, 0]);
    mesh.uvs = Float32Array.from([0.25, 1, 0.25, 1, 0.25, 0, 0.25, 0]);
    const model = {
      ...modelOf('s', [{ mesh, material: { ...DEFAULT_MATERIAL, base: [1, 1, 1], textures: { base: use('second') } } }]),
      textures: [halves],
    };
    const read = await glb.read({ name: 's.glb', bytes: await writeGlb(model) }, [], { unit: 'm', up: 'y' });
    expect(read.materials[0]!.textures.base!.mapping).toBe('second');
    expect(read.meshes[0]!.secondUvs).toEqual(mesh.secondUvs);
    const bright = trace(read, { ...look, stage: { environment: WHITE } }).mean();
    const dark = trace(
      { ...model, materials: [{ ...model.materials[0]!, textures: { base: use('first') } }] },
      { ...look, stage: { environment: WHITE } },
    ).mean();
    expect(bright).toBeGreaterThan(dark + 0.5);
  });

  it.each([
    ['front', [0, 0, 4]],
    ['right', [4, 0, 0]],
    ['back', [0, 0, -4]],
    ['left', [-4, 0, 0]],
  ] as const)('by a box: one texture a metre, u to the right, on its %s', (_, eye) => {
    // A cube of half a metre in a part that is scaled by two: the picture is still one a metre, and begins half a metre left.
    const cube = new MeshMaker().box([-0.25, -0.25, -0.25], [0.25, 0.25, 0.25]).mesh();
    const material = { base: [1, 1, 1] as Rgb, specular: 0, textures: { base: use('box', [1, 0, 0.5, 0, 1, 0]) } };
    const model = { ...modelOf('b', [{ mesh: cube, material }]), textures: [halves] };
    model.parts[0]!.world = [2, 0, 0, 0, 0, 2, 0, 0, 0, 0, 2, 0, 0, 0, 0, 1];
    const sun = { kind: 'sun' as const, direction: eye.map((v) => -v / 4) as Rgb, radius: 0, irradiance: [Math.PI, Math.PI, Math.PI] as Rgb };
    const picture = trace(model, { ...look, eye: [...eye], stage: { lights: [sun] } });
    // The face stands 3.5 m away; 64 pixels are 36 mm of film behind 100 mm of lens.
    const at = (metres: number): number => picture.colour[(31 * 64 + Math.round(31.5 + (metres * 100 * 64) / (36 * 3.5))) * 3]!;
    // Between texels it is mixed: 2 a metre, over a pixel of 2 cm.
    expect(at(-0.25)).toBeLessThan(0.04);
    expect(at(0.25)).toBeGreaterThan(0.96);
    expect(at(-0.05)).toBeCloseTo(0.4, 1);
  });
});

import { describe, expect, it } from 'vitest';
import type { Material } from '../../src/core/materials/material.js';
import { MeshMaker, modelOf, sphere } from '../../src/core/model/meshMaker.js';
import { cameraOf } from '../../src/core/camera/view.js';
import { BLACK, trace, WHITE } from '../support/trace.js';

type Rgb = [number, number, number];
const white: Rgb = [1, 1, 1];

/** Mean radiance of a white ball under unit light from everywhere. */
function furnace(material: Partial<Material>, samples = 64): number {
  const mesh = sphere(64);
  // Smooth, as a ball is; flat facets at grazing angles would count their neighbours.
  mesh.normals = mesh.positions.slice();
  const ball = modelOf('ball', [{ mesh, material: { base: white, ...material } }]);
  const picture = trace(ball, {
    eye: [0, 0, 4],
    target: [0, 0, 0],
    focalLength: 120,
    width: 24,
    height: 24,
    samples,
    bounces: 64,
    refractionDepth: 64,
    stage: { environment: WHITE },
  });
  return picture.mean((p) => picture.cover[p] === 1);
}

describe('white furnace, every lobe and roughness: what comes in goes out, within 0.5 %', () => {
  const lobes: [string, (roughness: number) => Partial<Material>][] = [
    ['metal', (roughness) => ({ metalness: 1, roughness })],
    ['half metal', (roughness) => ({ metalness: 0.5, roughness })],
    ['dielectric over white', (roughness) => ({ roughness })],
    ['strong dielectric', (roughness) => ({ roughness, ior: 2.2 })],
    ['brushed metal', (roughness) => ({ metalness: 1, roughness: roughness * 0.6, anisotropy: 0.5 })],
    ['coat over white', (roughness) => ({ coat: 1, coatRoughness: roughness, specular: 0 })],
    ['sheen over white', (roughness) => ({ sheen: [0.8, 0.8, 0.8], sheenRoughness: roughness, specular: 0 })],
    ['frosted solid glass', (roughness) => ({ transmission: 1, roughness: Math.max(roughness, 0.1) })],
    ['frosted thin glass', (roughness) => ({ transmission: 1, thin: true, roughness: Math.max(roughness, 0.1) })],
  ];
  for (const [name, material] of lobes) {
    it(name, () => {
      const off = [0.05, 0.3, 0.6, 1].map((roughness) => [roughness, furnace(material(roughness), 100)] as const);
      // Brushing stretches the lobe more than the tables, made for round ones, know.
      const allowed = name === 'brushed metal' ? 0.03 : 0.005;
      expect(off.filter(([, value]) => Math.abs(value - 1) > allowed)).toEqual([]);
    });
  }

  it('a translucent white shade', () => {
    expect(Math.abs(furnace({ translucency: 0.6, specular: 0 }, 256) - 1)).toBeLessThan(0.005);
  });

  it('a coloured surface never gives more than comes in', () => {
    for (const roughness of [0.1, 0.5, 1]) {
      const value = furnace({ base: [0.5, 0.5, 0.5], metalness: 0.3, roughness, coat: 1, sheen: [1, 1, 1], sheenRoughness: 0.4 });
      expect(value).toBeLessThan(1);
      expect(value).toBeGreaterThan(0.4);
    }
  });
});

/** BRDF by a sun of unit irradiance from azimuth 0 and one altitude, seen from another, times the sun's cosine. */
function brdf(material: Partial<Material>, from: Rgb, to: Rgb): number {
  const quad = modelOf('quad', [{ mesh: new MeshMaker().quad([-5, 0, 5], [10, 0, 0], [0, 0, -10]).mesh(), material }]);
  const sun = { kind: 'sun' as const, direction: from.map((c) => -c) as Rgb, radius: 0, irradiance: white };
  const eye = to.map((c) => c * 3) as Rgb;
  const picture = trace(quad, { eye, target: [0, 0, 0], focalLength: 1000, width: 16, height: 16, samples: 1, bounces: 1, stage: { lights: [sun] } });
  return picture.mean() / from[1];
}

describe('reciprocity', () => {
  const way = (azimuth: number, altitude: number): Rgb => {
    const [a, h] = [(azimuth * Math.PI) / 180, (altitude * Math.PI) / 180];
    return [Math.cos(h) * Math.sin(a), Math.sin(h), Math.cos(h) * Math.cos(a)];
  };
  for (const [name, material] of Object.entries<Partial<Material>>({
    metal: { metalness: 1, roughness: 0.5 },
    paint: { roughness: 0.4 },
    coat: { coat: 1, coatRoughness: 0.3, roughness: 0.6 },
    sheen: { sheen: [0.7, 0.7, 0.7], sheenRoughness: 0.5 },
    'coat over sheen': { coat: 0.6, coatRoughness: 0.4, sheen: [0.7, 0.7, 0.7], sheenRoughness: 0.5 },
  })) {
    it(`of ${name}: light and eye may change places`, () => {
      const [a, b] = [way(20, 35), way(150, 70)];
      const [there, back] = [brdf(material, a, b), brdf(material, b, a)];
      expect(there).toBeGreaterThan(0);
      // The eye looks through a lens of 2°, so angles differ by that much within the picture.
      expect(Math.abs(there / back - 1)).toBeLessThan(0.004);
    });
  }
});

describe('glass', () => {
  const sheet = (z: number, colour: Rgb, x = -20) => ({
    mesh: new MeshMaker().quad([x, -20, z], [40, 0, 0], [0, 40, 0]).mesh(),
    material: { base: colour, unlit: true },
  });

  it('a thick plate moves what is seen through it aside, by Snell', () => {
    // Born and Wolf, Principles of Optics: d = t sin a (1 - cos a / sqrt(n² - sin² a)).
    const t = 0.2;
    const a = Math.PI / 4;
    const d = t * Math.sin(a) * (1 - Math.cos(a) / Math.sqrt(1.5 ** 2 - Math.sin(a) ** 2));
    const edge = (plate: boolean): number => {
      const pieces = [sheet(-3, [0, 0, 0]), { ...sheet(-2.9, white, 0) }];
      if (plate)
        pieces.push({ mesh: new MeshMaker().box([-9, -9, 0], [9, 9, t]).mesh(), material: { base: white, transmission: 1, roughness: 0 } as never });
      const model = modelOf('plate', pieces);
      const view = { width: 256, height: 16, eye: [3, 0, 3] as Rgb, target: [0, 0, 0] as Rgb };
      const picture = trace(model, { ...view, samples: 512, frame: { camera: parallel([3, 0, 3], [0, 0, 0], 8, 256, 16) } });
      // Column in which dark turns to bright, between pixels by the share of light, over the middle row.
      const row = Array.from({ length: 256 }, (_, x) => picture.colour[(8 * 256 + x) * 3]!);
      const bright = row.slice(224).reduce((sum, v) => sum + v / 32, 0);
      const first = row.findIndex((v) => v > 0.1);
      return first + 1 - Math.min(1, row[first]! / bright);
    };
    const pixels = (d / 8) * 256;
    expect(Math.abs(Math.abs(edge(true) - edge(false)) - pixels)).toBeLessThan(0.15);
  });

  it('mirrors all light past the critical angle of 41.8° inside, and lets it pass before', () => {
    // The eye is in the glass, a black sheet above it hides what is mirrored; white shines below.
    const inside = (degrees: number): number => {
      const model = modelOf('block', [
        { mesh: new MeshMaker().box([-50, 0, -50], [50, 20, 50]).mesh(), material: { base: white, transmission: 1, roughness: 0 } },
        { mesh: new MeshMaker().quad([-40, 3, -40], [80, 0, 0], [0, 0, 80]).mesh(), material: { base: [0, 0, 0] as Rgb, unlit: true } },
      ]);
      const a = (degrees * Math.PI) / 180;
      const picture = trace(model, {
        eye: [0, 1, 0],
        target: [Math.sin(a), 1 - Math.cos(a), 0],
        focalLength: 1200,
        samples: 256,
        refractionDepth: 8,
        stage: { environment: WHITE, backdrop: WHITE },
      });
      return picture.mean();
    };
    expect(inside(60)).toBe(0);
    expect(inside(43)).toBe(0);
    // 25.6° inside is 40.4° outside; Fresnel there by both polarisations.
    const [ti, to] = [(25.6 * Math.PI) / 180, Math.asin(1.5 * Math.sin((25.6 * Math.PI) / 180))];
    const s = ((1.5 * Math.cos(ti) - Math.cos(to)) / (1.5 * Math.cos(ti) + Math.cos(to))) ** 2;
    const p = ((1.5 * Math.cos(to) - Math.cos(ti)) / (1.5 * Math.cos(to) + Math.cos(ti))) ** 2;
    expect(inside(25.6)).toBeCloseTo(1 - (s + p) / 2, 2);
  });

  it('absorbs by Beer and Lambert', () => {
    const slab = modelOf('slab', [
      {
        mesh: new MeshMaker().box([-9, -9, 0], [9, 9, 0.5]).mesh(),
        material: { base: white, transmission: 1, roughness: 0, ior: 1, absorption: [1.2, 2, 5] as Rgb },
      },
    ]);
    const picture = trace(slab, { eye: [0, 0, 30], target: [0, 0, 0], focalLength: 1200, samples: 4, stage: { backdrop: WHITE } });
    [1.2, 2, 5].forEach((a, c) => expect(picture.colour[c]! / Math.exp(-a * 0.5)).toBeCloseTo(1, 3));
    // A shadow ray through it is dimmed as much.
    const lit = modelOf('lit', [
      {
        mesh: new MeshMaker().box([-9, 1, -9], [9, 1.5, 9]).mesh(),
        material: { base: white, transmission: 1, roughness: 0, ior: 1, absorption: [2, 2, 2] as Rgb },
      },
      { mesh: new MeshMaker().quad([-9, 0, 9], [18, 0, 0], [0, 0, -18]).mesh(), material: { base: white, specular: 0 } },
    ]);
    const sun = { kind: 'sun' as const, direction: [0, -1, 0] as Rgb, radius: 0, irradiance: [Math.PI, Math.PI, Math.PI] as Rgb };
    const under = trace(lit, { eye: [0, 0.9, 0], target: [0, 0, 0.001], focalLength: 100, samples: 4, bounces: 1, stage: { lights: [sun] } });
    expect(under.mean()).toBeCloseTo(Math.exp(-1), 3);
  });

  it('three panes in line show what is behind them at six interfaces, and never go black', () => {
    const pane = (z: number) => ({
      mesh: new MeshMaker().box([-9, -9, z], [9, 9, z + 0.01]).mesh(),
      material: { base: white, transmission: 1, roughness: 0 },
    });
    const model = modelOf('panes', [pane(0), pane(1), pane(2), sheet(-2, [0.5, 0.5, 0.5])]);
    const through = (refractionDepth: number) =>
      trace(model, { eye: [0, 0, 9], target: [0, 0, 0], focalLength: 1200, samples: 400, refractionDepth }).mean();
    // Six faces of 4 % each; to and fro among them adds a little less than is lost.
    const whole = 0.5 * (1 - 0.04) ** 6;
    expect(through(6)).toBeGreaterThan(whole * 0.98);
    expect(through(6)).toBeLessThan(0.5);
    for (const refractionDepth of [0, 1, 2, 3]) expect(through(refractionDepth)).toBeGreaterThan(whole * 0.98);
  });
});

describe('alpha', () => {
  it('blends by coverage, masks by the cutoff, and lets as much light through to the ground', () => {
    const veil = (material: Partial<Material>) =>
      modelOf('veil', [
        { mesh: new MeshMaker().quad([-9, 1, 9], [18, 0, 0], [0, 0, -18]).mesh(), material: { base: [0, 0, 0] as Rgb, specular: 0, ...material } },
        { mesh: new MeshMaker().quad([-9, 0, 9], [18, 0, 0], [0, 0, -18]).mesh(), material: { base: white, specular: 0 } },
      ]);
    const sun = { kind: 'sun' as const, direction: [0, -1, 0] as Rgb, radius: 0, irradiance: [Math.PI, Math.PI, Math.PI] as Rgb };
    const seen = (material: Partial<Material>, y: number) =>
      trace(veil(material), { eye: [0, y, 0], target: [0, 0, 0.001], focalLength: 100, samples: 1024, bounces: 1, stage: { lights: [sun] } }).mean();
    expect(seen({ alpha: 0.3, alphaMode: 'blend' }, 0.9)).toBeCloseTo(0.7, 4);
    expect(seen({ alpha: 0.3, alphaMode: 'blend' }, 3)).toBeCloseTo(0.7 * 0.7, 2);
    expect(seen({ alpha: 0.3, alphaMode: 'mask', cutoff: 0.5 }, 3)).toBeCloseTo(1, 4);
    expect(seen({ alpha: 0.7, alphaMode: 'mask', cutoff: 0.5 }, 0.9)).toBe(0);
  });
});

describe('textures', () => {
  const texture = (pixels: number[]) => ({
    name: 't',
    width: 1,
    height: 1,
    pixels: Uint8Array.from(pixels),
    wrapU: 'repeat' as const,
    wrapV: 'repeat' as const,
  });

  it('a normal texture turns the normal in tangent space', () => {
    // A quad facing +Z, u along +X, v down as glTF has it; the normal leans 45° to +X.
    const mesh = new MeshMaker().quad([-1, -1, 0], [2, 0, 0], [0, 2, 0]).mesh();
    mesh.uvs = Float32Array.from([0, 1, 1, 1, 0, 0, 1, 0]);
    const model = modelOf('n', [
      { mesh, material: { base: white, specular: 0, textures: { normal: { texture: 0, matrix: [1, 0, 0, 0, 1, 0], mapping: 'first' } } } },
    ]);
    const byNormal = (rgb: number[], direction: Rgb): number => {
      const m = { ...model, textures: [texture([...rgb, 255])] };
      const sun = { kind: 'sun' as const, direction: direction.map((c) => -c) as Rgb, radius: 0, irradiance: [Math.PI, Math.PI, Math.PI] as Rgb };
      return trace(m, { eye: [0, 0, 4], target: [0, 0, 0], focalLength: 100, samples: 4, bounces: 1, stage: { lights: [sun] } }).mean();
    };
    const lean = Math.round((Math.SQRT1_2 * 0.5 + 0.5) * 255);
    const k = Math.SQRT1_2;
    // Towards +X by red, towards +Y by green: the full cosine from there, none from across.
    expect(byNormal([lean, 128, lean], [k, 0, k])).toBeCloseTo(1, 2);
    expect(byNormal([128, lean, lean], [0, k, k])).toBeCloseTo(1, 2);
    expect(byNormal([lean, 128, lean], [-k, 0, k])).toBeLessThan(0.02);
    expect(byNormal([128, 128, 255], [0, 0, 1])).toBeCloseTo(1, 3);
  });

  it('roughness and metalness come from green and blue, linear; emission from sRGB', () => {
    const mesh = new MeshMaker().quad([-1, -1, 0], [2, 0, 0], [0, 2, 0]).mesh();
    mesh.uvs = Float32Array.from([0, 1, 1, 1, 0, 0, 1, 0]);
    const use = { texture: 0, matrix: [1, 0, 0, 0, 1, 0] as [number, number, number, number, number, number], mapping: 'first' as const };
    const shine = {
      ...modelOf('e', [{ mesh, material: { base: [0, 0, 0] as Rgb, specular: 0, emission: [2, 2, 2] as Rgb, textures: { emission: use } } }]),
      textures: [texture([188, 188, 188, 255])],
    };
    const glow = trace(shine, { eye: [0, 0, 4], target: [0, 0, 0], focalLength: 100, samples: 4, stage: { environment: BLACK } });
    // IEC 61966-2-1: 188 is 0.5029 in linear light.
    expect(glow.mean()).toBeCloseTo(2 * 0.5029, 3);
    const metal = {
      ...modelOf('m', [{ mesh, material: { base: [1, 0, 0] as Rgb, metalness: 1, roughness: 1, textures: { metalRough: use } } }]),
      textures: [texture([0, 255, 0, 255])],
    };
    const plain = modelOf('p', [{ mesh, material: { base: [1, 0, 0] as Rgb, metalness: 0, roughness: 1 } }]);
    const view = { eye: [0, 0, 4] as Rgb, target: [0, 0, 0] as Rgb, focalLength: 100, samples: 64, stage: { environment: WHITE } };
    expect(trace(metal, view).colour[0]).toBeCloseTo(trace(plain, view).colour[0]!, 6);
  });
});

function parallel(eye: Rgb, target: Rgb, width: number, w: number, h: number) {
  return cameraOf({ eye, target, focalLength: 50, keepVerticals: false, kind: 'parallel', width }, { width: w, height: h }, 1);
}

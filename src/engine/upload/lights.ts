/** Lights in kernel memory: what can be drawn, with its chance by power. Faces that shine are in emissiveTriangles.ts. */
import { type mat4, vec3 } from 'gl-matrix';
import * as L from '../../../kernel/layout.js';
import type { Vec3 } from '../../core/math/bounds.js';
import { identity } from '../../core/math/matrix.js';
import type { Light } from '../../core/stage/light.js';
import { luminance, type Rgb } from '../../core/units/colour.js';
import { type EmissiveTriangles, TRIANGLE, TRIANGLE_NUMBERS, writeTriangles } from './emissiveTriangles.js';
import { writeF32, writeU32, type Views } from './memoryViews.js';

/** One record to be: numbers as LAMP_ has them, and its power for the draw. */
interface Source {
  kind: number;
  /** What its light counts as where light is kept apart. */
  source: number;
  power: number;
  area: number;
  outer: number;
  inner: number;
  centre: ArrayLike<number>;
  u: ArrayLike<number>;
  v: ArrayLike<number>;
  normal: ArrayLike<number>;
  radiance: ArrayLike<number>;
}

const NONE: Vec3 = [0, 0, 0];
const lightRecord = (c: Rgb): number => luminance(...c);

function lightSource(light: Light, turned: mat4, radius: number): Omit<Source, 'source'> {
  const place = (p: Vec3): Vec3 => vec3.transformMat4([0, 0, 0], p, turned) as Vec3;
  const way = (d: Vec3): Vec3 => {
    const [x, y, z] = d;
    const m = turned;
    return [m[0] * x + m[4] * y + m[8] * z, m[1] * x + m[5] * y + m[9] * z, m[2] * x + m[6] * y + m[10] * z];
  };
  const base = { area: 0, outer: 0, inner: 0, centre: NONE, u: NONE, v: NONE, normal: NONE };
  switch (light.kind) {
    case 'rectangle':
    case 'disc': {
      const [u, v] = [way(light.u), way(light.v)];
      const n = vec3.cross([0, 0, 0], u, v);
      const size = Math.hypot(...(n as Vec3));
      const area = light.kind === 'disc' ? Math.PI * size : size;
      const kind = light.kind === 'disc' ? L.LIGHT_DISC : L.LIGHT_RECTANGLE;
      return {
        ...base,
        kind,
        power: Math.PI * area * lightRecord(light.radiance),
        area,
        centre: place(light.centre),
        u,
        v,
        normal: (n as Vec3).map((c) => c / size),
        radiance: light.radiance,
      };
    }
    case 'point':
      return {
        ...base,
        kind: L.LIGHT_POINT,
        power: 4 * Math.PI * lightRecord(light.intensity),
        centre: place(light.centre),
        radiance: light.intensity,
      };
    case 'spot': {
      const [outer, inner] = [Math.cos(light.outer), Math.cos(light.inner)];
      const power = 2 * Math.PI * (1 - (outer + inner) / 2) * lightRecord(light.intensity);
      return {
        ...base,
        kind: L.LIGHT_SPOT,
        power,
        outer,
        inner,
        centre: place(light.centre),
        normal: way(light.direction),
        radiance: light.intensity,
      };
    }
    case 'sun': {
      // 1 - cos r, by the half angle so that no digits are lost; its disc has the solid angle 2 pi (1 - cos r).
      const outer = 2 * Math.sin(light.radius / 2) ** 2;
      // Seen from its middle, a disc of even radiance L gives L pi sin² r.
      const radiance = outer > 0 ? light.irradiance.map((e) => e / (Math.PI * Math.sin(light.radius) ** 2)) : light.irradiance;
      return {
        ...base,
        kind: L.LIGHT_SUN,
        power: Math.PI * radius * radius * lightRecord(light.irradiance),
        outer,
        normal: way(light.direction),
        radiance,
      };
    }
  }
}

/** What each light counts as where light is kept apart. @param stage how many of them are the stage's; the others are the model's. */
export function sourcesOf(lights: readonly Light[], stage: number): number[] {
  let count = 0;
  return lights.map((light, i) => {
    if (i >= stage) return L.SOURCE_MODEL;
    if (light.kind === 'sun' && !light.added) return L.SOURCE_SUN;
    return L.SOURCE_LIGHT + Math.min(count++, L.SOURCE_LIGHTS - 1);
  });
}

/** What of the written lights the frame has to know. */
export interface WrittenLights {
  count: number;
  /** Indices of suns whose disc can be met. */
  suns: number[];
  /** Indices and places of rectangles and discs, which can be met as shapes. */
  shapes: { index: number; centre: Vec3; u: Vec3; v: Vec3 }[];
  /** Chance a square metre for radiance of luminance 1 on a shining triangle. */
  perRadiance: number;
}

interface LightSelection {
  lights: Light[];
  /** Lights before this one are the stage's, which `turned` moves. */
  turnedUpTo: number;
  turned: mat4;
  /** The sun belongs to its sky and does not turn with the lights. */
  sunStays: boolean;
  triangles: EmissiveTriangles;
  mean: number;
  /** Of the subject, for the power of what shines from afar. */
  radius: number;
}

/**
 * Writes records and cumulative chances. `mean` is the mean luminance of the surround's image, or 0
 * where there is none; its record, when there is one, is the last.
 */
export function writeLights(
  views: Views,
  at: number,
  chances: number,
  { lights, triangles, mean, radius, turned, turnedUpTo, sunStays }: LightSelection,
): WrittenLights {
  const counted = sourcesOf(lights, turnedUpTo);
  const sources = lights
    .map((l, i): Source => {
      const moves = i < turnedUpTo && !(sunStays && l.kind === 'sun' && !l.added);
      return { ...lightSource(l, moves ? turned : identity(), radius), source: counted[i]! };
    })
    .filter((s) => s.power > 0);
  const surround: Source[] = [];
  if (mean > 0)
    surround.push({
      ...lightSource({ kind: 'point', centre: NONE, intensity: [mean, mean, mean] }, turned, radius),
      kind: L.LIGHT_ENVIRONMENT,
      source: L.SOURCE_SURROUNDINGS,
      power: 4 * Math.PI * Math.PI * radius * radius * mean,
    });
  let total = sources.reduce((sum, s) => sum + s.power, 0);
  for (let t = 0; t < triangles.count; t++) total += triangles.numbers[t * TRIANGLE_NUMBERS + TRIANGLE.power]!;
  total = surround.reduce((sum, s) => sum + s.power, total);
  const count = sources.length + triangles.count + surround.length;
  const laid: WrittenLights = { count, suns: [], shapes: [], perRadiance: total > 0 ? (2 * Math.PI) / total : 0 };
  let sum = 0;
  let next = 0;
  const write = (s: Source): void => {
    const i = next++;
    const record = at + i * L.LIGHT_BYTES;
    writeU32(views, record + L.LIGHT_KIND, s.kind);
    writeU32(views, record + L.LIGHT_SOURCE, s.source);
    writeF32(views, record + L.LIGHT_PROBABILITY, [s.power / total, s.area, s.outer]);
    writeF32(views, record + L.LIGHT_CENTRE, s.centre);
    writeF32(views, record + L.LIGHT_INNER, [s.inner]);
    writeF32(views, record + L.LIGHT_U, s.u);
    writeF32(views, record + L.LIGHT_V, s.v);
    writeF32(views, record + L.LIGHT_NORMAL, s.normal);
    writeF32(views, record + L.LIGHT_RADIANCE, s.radiance);
    writeF32(views, chances + i * 4, [sum / total]);
    sum += s.power;
    if (s.kind === L.LIGHT_SUN && s.outer > 0) laid.suns.push(i);
    if (s.kind === L.LIGHT_RECTANGLE || s.kind === L.LIGHT_DISC)
      laid.shapes.push({ index: i, centre: s.centre as Vec3, u: s.u as Vec3, v: s.v as Vec3 });
  };
  sources.forEach(write);
  sum = writeTriangles(views, at + next * L.LIGHT_BYTES, chances + next * 4, triangles, total, sum);
  next += triangles.count;
  surround.forEach(write);
  return laid;
}

/**
 * The light of a stage for the quick viewport, in the engine's own units: what mirrors and soft light
 * are read from, and what shines straight. Made by arithmetic: filtering a picture of a room on the
 * graphics device takes seconds where there is no graphics card.
 */
import {
  CubeTexture,
  DataTexture,
  DataUtils,
  HalfFloatType,
  LinearFilter,
  LinearMipmapLinearFilter,
  LinearSRGBColorSpace,
  RGBAFormat,
  ShaderChunk,
} from 'three';
import type { Vec3 } from '../../core/math/bounds.js';
import { EXPOSURE, WHITE } from '../../core/image/tone.js';
import type { Light } from '../../core/stage/light.js';
import type { Gradient, Stage } from '../../core/stage/stage.js';
import type { Rgb } from '../../core/units/colour.js';

/** Texels along an edge of the sharpest level; three levels follow, of which the device's sampler reads two. */
const EDGE = 32;
/** What each level is filtered for; three.js maps roughness to levels by this rule: 1 − √(1 − level/2). */
const ROUGHNESS = [0, 1 - Math.SQRT1_2, 1, 1];
/** Nothing mirrored is brighter: a light would leave specks. */
const MAX_MIRRORED_SIZE = 8;
const DRAWS = 24;

/** Radiance of a gradient from a direction with height y, as the kernel has it. */
export function gradientAt({ top, middle, bottom }: Gradient, y: number): Rgb {
  const end = y >= 0 ? top : bottom;
  const t = Math.sqrt(Math.min(1, Math.abs(y)));
  return middle.map((m, i) => m + (end[i]! - m) * t) as Rgb;
}

/**
 * A gradient seen through a lobe cosᵏ about directions of height −1 … 1, in even steps: k = 2/α² − 2
 * with α = roughness², at least 1, which makes the last level a diffuse surface's light over π.
 * Walter et al., "Microfacet models for refraction through rough surfaces", 2007, for the exponent.
 */
export function filtered(gradient: Gradient, roughness: number, steps = 32): Rgb[] {
  const k = roughness > 0 ? Math.max(1, 2 / roughness ** 4 - 2) : Infinity;
  return Array.from({ length: steps + 1 }, (_, i) => {
    const y = -1 + (2 * i) / steps;
    if (k === Infinity) return gradientAt(gradient, y);
    const across = Math.sqrt(Math.max(0, 1 - y * y));
    const sum: Rgb = [0, 0, 0];
    for (let a = 0; a < DRAWS; a++) {
      const cos = ((a + 0.5) / DRAWS) ** (1 / (k + 1));
      const sin = Math.sqrt(1 - cos * cos);
      for (let b = 0; b < DRAWS; b++) {
        const light = gradientAt(gradient, y * cos + across * sin * Math.cos((2 * Math.PI * (b + 0.5)) / DRAWS));
        for (let c = 0; c < 3; c++) sum[c]! += light[c]! / (DRAWS * DRAWS);
      }
    }
    return sum;
  });
}

/** Straight light at a place: irradiance on a surface that faces it, where it comes from, and the cosine of its angular radius. */
export interface LightBeam {
  from: Vec3;
  irradiance: Rgb;
  edge: number;
}

/** What a light gives at a place; null where it shines away from it. */
export function lightBeam(light: Light, at: Vec3): LightBeam | null {
  if (light.kind === 'sun') return { from: light.direction.map((c) => -c) as Vec3, irradiance: light.irradiance, edge: Math.cos(light.radius) };
  const to = light.centre.map((c, i) => c - at[i]!) as Vec3;
  const far = Math.hypot(...to);
  const from = to.map((c) => c / far) as Vec3;
  if ('intensity' in light) {
    if (
      light.kind === 'spot' &&
      -(from[0] * light.direction[0] + from[1] * light.direction[1] + from[2] * light.direction[2]) < Math.cos(light.outer)
    )
      return null;
    return { from, irradiance: light.intensity.map((c) => c / far ** 2) as Rgb, edge: 1 };
  }
  const { u, v } = light;
  const n: Vec3 = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const across = -(n[0] * from[0] + n[1] * from[1] + n[2] * from[2]);
  const angle = (across * (light.kind === 'disc' ? Math.PI : 1)) / far ** 2;
  if (angle <= 0) return null;
  return { from, irradiance: light.radiance.map((c) => c * angle) as Rgb, edge: 1 - angle / (2 * Math.PI) };
}

/** World direction of a texel of a face, in OpenGL's order of faces, with x turned over as three.js does for cubes from pictures. */
function directionOf(face: number, s: number, t: number): Vec3 {
  const faces: Vec3[] = [
    [1, -t, -s],
    [-1, -t, s],
    [s, 1, t],
    [s, -1, -t],
    [s, -t, 1],
    [-s, -t, -1],
  ];
  const d = faces[face]!;
  const far = Math.hypot(...d);
  return [-d[0] / far, d[1] / far, d[2] / far];
}

/** The stage's surround, with the lights as a mirror shows them, filtered for three.js; to be disposed of. */
export function environmentTexture(stage: Stage, at: Vec3): CubeTexture {
  const beams = stage.lights.map((light) => lightBeam(light, at)).filter((b) => b !== null);
  const level = (n: number): CubeTexture => {
    const edge = EDGE >> n;
    const table = filtered(stage.environment, ROUGHNESS[n]!);
    const images = Array.from({ length: 6 }, (_, face) => {
      const data = new Uint16Array(edge * edge * 4);
      for (let p = 0; p < edge * edge; p++) {
        const d = directionOf(face, (2 * ((p % edge) + 0.5)) / edge - 1, (2 * (Math.floor(p / edge) + 0.5)) / edge - 1);
        const light = [...table[Math.round(((d[1] + 1) / 2) * (table.length - 1))]!];
        if (n === 0)
          for (const b of beams) {
            const inside = d[0] * b.from[0] + d[1] * b.from[1] + d[2] * b.from[2] >= b.edge;
            if (inside) for (let c = 0; c < 3; c++) light[c]! += Math.min(MAX_MIRRORED_SIZE, b.irradiance[c]! / (2 * Math.PI * (1 - b.edge)));
          }
        for (let c = 0; c < 3; c++) data[p * 4 + c] = DataUtils.toHalfFloat(light[c]!);
        data[p * 4 + 3] = DataUtils.toHalfFloat(1);
      }
      return new DataTexture(data, edge, edge, RGBAFormat, HalfFloatType);
    });
    return new CubeTexture(
      images,
      undefined,
      undefined,
      undefined,
      LinearFilter,
      LinearMipmapLinearFilter,
      RGBAFormat,
      HalfFloatType,
      undefined,
      LinearSRGBColorSpace,
    );
  };
  const texture = level(0);
  texture.mipmaps = [1, 2, 3].map(level) as never;
  texture.generateMipmaps = false;
  // Already filtered: three.js is not to do it again.
  texture.isPMREMTexture = true;
  texture.needsUpdate = true;
  return texture;
}

/** The engine's tone curve, in the place three.js keeps for one's own. */
ShaderChunk.tonemapping_pars_fragment = ShaderChunk.tonemapping_pars_fragment.replace(
  'vec3 CustomToneMapping( vec3 color ) { return color; }',
  `vec3 CustomToneMapping( vec3 color ) {
    color *= ${EXPOSURE.toFixed(6)} * toneMappingExposure;
    float l = dot( color, vec3( 0.2126, 0.7152, 0.0722 ) );
    return saturate( color * ( 1.0 + l / ${(WHITE * WHITE).toFixed(6)} ) / ( 1.0 + l ) );
  }`,
);

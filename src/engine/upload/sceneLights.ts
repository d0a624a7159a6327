/** Lights that come with the model, and the one light that shaded pictures take as their key. */
import { mat4, vec3 } from 'gl-matrix';
import { turnMatrix } from '../../core/camera/view.js';
import type { Frame } from '../../core/frame/frame.js';
import type { Vec3 } from '../../core/math/bounds.js';
import { identity, matrixOf } from '../../core/math/matrix.js';
import { DAYLIGHT_UNIT } from '../../core/stage/daylight.js';
import type { Light } from '../../core/stage/light.js';
import { luminance, type Rgb } from '../../core/units/colour.js';
import type { SceneData } from './sceneData.js';

/** Lights that the file brings, where the stage wants them; they turn with the subject. */
export function modelLights({ scene }: SceneData, frame: Frame): Light[] {
  if (!frame.stage.modelLights) return [];
  // A file says candela and lux.
  const unit = frame.stage.sky ? 1 / DAYLIGHT_UNIT : 1;
  const turn = frame.turn?.what.includes('subject') ? turnMatrix(frame.turn, frame.turn.rotation) : null;
  const off = new Set(frame.stage.modelLightsOff);
  return scene.lights
    .filter((l) => !off.has(scene.parts[l.part]!.path))
    .map((light): Light => {
      const part = scene.parts[light.part]!;
      const m = turn && !part.isContext ? mat4.multiply(identity(), turn, matrixOf(part.world)) : matrixOf(part.world);
      const centre: Vec3 = [m[12], m[13], m[14]];
      const n = Math.hypot(m[8], m[9], m[10]) || 1;
      const direction: Vec3 = [-m[8] / n, -m[9] / n, -m[10] / n];
      const intensity = light.intensity.map((c) => c * unit) as Rgb;
      if (light.kind === 'point') return { kind: 'point', centre, intensity };
      if (light.kind === 'spot') return { kind: 'spot', centre, direction, intensity, inner: light.inner, outer: light.outer };
      return { kind: 'sun', direction, radius: 0, irradiance: intensity };
    });
}

/** The strongest lamp as a quick picture's key: where from, how bright on the subject, how wide. */
export function keyLight(lights: Light[], centre: Vec3): { direction: Vec3; colour: Rgb; spread: number } {
  let best = { direction: [0, 1, 0] as Vec3, colour: [0, 0, 0] as Rgb, spread: 0 };
  for (const light of lights) {
    let candidate = best;
    if (light.kind === 'sun') {
      candidate = { direction: light.direction.map((c) => -c) as Vec3, colour: light.irradiance, spread: Math.tan(light.radius) };
    } else {
      const to = vec3.subtract([0, 0, 0], light.centre, centre) as Vec3;
      const d = Math.hypot(...to) || 1;
      const direction = to.map((c) => c / d) as Vec3;
      if (light.kind === 'point' || light.kind === 'spot')
        candidate = { direction, colour: light.intensity.map((c) => c / (d * d)) as Rgb, spread: 0 };
      else {
        const n = vec3.cross([0, 0, 0], light.u, light.v) as Vec3;
        const area = Math.hypot(...n) * (light.kind === 'disc' ? Math.PI : 1);
        const facing = Math.max(0, -vec3.dot(n, direction) / (Math.hypot(...n) || 1));
        candidate = { direction, colour: light.radiance.map((c) => (c * area * facing) / (d * d)) as Rgb, spread: Math.sqrt(area / Math.PI) / d };
      }
    }
    if (luminance(...candidate.colour) > luminance(...best.colour)) best = candidate;
  }
  return best;
}

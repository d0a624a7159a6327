/** Lights that have a shape and are seen. */
import { LIGHT_KIND, LIGHT_CENTRE, LIGHT_U, LIGHT_V, LIGHT_NORMAL, LIGHT_DISC } from "../layout";
import { R_DIRECTION } from "./ray";
import { worldRay } from "./walk";
import { hitNear, hitDistance } from "./hit";

/** A light's rectangle or disc, met on the side that shines. */
export function intersectLightShape(light: usize): bool {
  const w = worldRay;
  const dx = load<f32>(w + R_DIRECTION), dy = load<f32>(w + R_DIRECTION, 16), dz = load<f32>(w + R_DIRECTION, 32);
  const nx = load<f32>(light, LIGHT_NORMAL), ny = load<f32>(light, LIGHT_NORMAL + 4), nz = load<f32>(light, LIGHT_NORMAL + 8);
  const c: f32 = -(dx * nx + dy * ny + dz * nz);
  if (!(c > 0)) return false;
  const x: f32 = load<f32>(light, LIGHT_CENTRE) - load<f32>(w), y: f32 = load<f32>(light, LIGHT_CENTRE + 4) - load<f32>(w, 16), z: f32 = load<f32>(light, LIGHT_CENTRE + 8) - load<f32>(w, 32);
  const t: f32 = -(x * nx + y * ny + z * nz) / c;
  if (!(t > hitNear && t < hitDistance)) return false;
  const hx: f32 = t * dx - x, hy: f32 = t * dy - y, hz: f32 = t * dz - z;
  const ux = load<f32>(light, LIGHT_U), uy = load<f32>(light, LIGHT_U + 4), uz = load<f32>(light, LIGHT_U + 8);
  if (load<u32>(light + LIGHT_KIND) == LIGHT_DISC) {
    if (hx * hx + hy * hy + hz * hz > ux * ux + uy * uy + uz * uz) return false;
  } else {
    const vx = load<f32>(light, LIGHT_V), vy = load<f32>(light, LIGHT_V + 4), vz = load<f32>(light, LIGHT_V + 8);
    if (abs<f32>(hx * ux + hy * uy + hz * uz) * 2 > ux * ux + uy * uy + uz * uz) return false;
    if (abs<f32>(hx * vx + hy * vy + hz * vz) * 2 > vx * vx + vy * vy + vz * vz) return false;
  }
  hitDistance = t;
  return true;
}

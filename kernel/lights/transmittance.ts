/** How much light passes from a point to a light: nothing behind an opaque part, dimmed by glass and alpha. */
import {
  FRAME_TREE, FRAME_ROOT, FRAME_INSTANCES, FRAME_HAS_GLASS, FRAME_EXTENT, FRAME_CAUSTICS, OPAQUE, TRANSPARENT,
  MATERIAL_ALPHA_MODE, MATERIAL_ABSORPTION, THIN,
} from "../layout";
import { closestHit, anyHit } from "../intersect/traverse";
import { hitDistance } from "../intersect/hit";
import { loadSurface, hitMaterial, shadeX, shadeY, shadeZ } from "../intersect/intersectionData";
import { alphaOf, loadMaterial } from "../bsdf/material";
import { baseR, baseG, baseB, ior, transmission, flags, saveMaterialState, restoreMaterialState } from "../bsdf/materialState";
import { expNeg } from "../math";
import { fresnel } from "../bsdf/microfacet";

export let transmittanceR: f32 = 0;
export let transmittanceG: f32 = 0;
export let transmittanceB: f32 = 0;

/** Panes in a row that a shadow ray looks through before it goes on as if there were no more. */
const MAX_PANES: i32 = 32;

/** Fills passR .. passB; false where nothing passes. */
export function transmittance(frame: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32): bool {
  const tree = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), at = <usize>load<u32>(frame + FRAME_INSTANCES);
  transmittanceR = transmittanceG = transmittanceB = 1;
  if (anyHit(tree, root, at, OPAQUE, ox, oy, oz, dx, dy, dz, far)) return false;
  if (load<u32>(frame + FRAME_HAS_GLASS) == 0) return true;
  if (!closestHit(tree, root, at, TRANSPARENT, ox, oy, oz, dx, dy, dz, far)) return true;
  const opaque = load<u32>(frame + FRAME_CAUSTICS) != 0;
  saveMaterialState();
  const open = transmittanceThroughPanes(frame, tree, root, at, opaque, ox, oy, oz, dx, dy, dz, far);
  restoreMaterialState();
  return open;
}

function transmittanceThroughPanes(frame: usize, tree: usize, root: i32, at: usize, opaque: bool, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32): bool {
  const eps: f32 = load<f32>(frame + FRAME_EXTENT) * <f32>1e-5;
  let left = far;
  let travelled: f32 = 0;
  let enteredAt: f32 = -1;
  for (let i: i32 = 0; i < MAX_PANES; i++) {
    // The first was found by the caller.
    if (i > 0 && !closestHit(tree, root, at, TRANSPARENT, ox, oy, oz, dx, dy, dz, left)) return true;
    const material = hitMaterial(frame, ox + hitDistance * dx, oy + hitDistance * dy, oz + hitDistance * dz);
    const t: f32 = hitDistance + eps;
    const outside = loadSurface(dx, dy, dz);
    let alpha: f32 = load<u32>(material + MATERIAL_ALPHA_MODE) != 0 ? alphaOf(material) : 1;
    if (alpha > 0) {
      loadMaterial(material, dx, dy, dz);
      let r: f32 = 0, g: f32 = 0, b: f32 = 0;
      if (transmission > 0 && !opaque) {
        // On the way out too the index outside counts: the straight ray stands for the bent one, whose loss is the same there.
        const f = fresnel(abs<f32>(shadeX * dx + shadeY * dy + shadeZ * dz), 1 / ior);
        const k: f32 = transmission * ((flags & THIN) != 0 ? (1 - f) / (1 + f) : 1 - f);
        r = k * baseR;
        g = k * baseG;
        b = k * baseB;
        if ((flags & THIN) == 0) {
          if (outside) enteredAt = travelled + t;
          else {
            // The body behind us absorbed over the way since it was entered, or since the point, which then lies in it.
            const way: f32 = enteredAt < 0 ? travelled + t : travelled + t - enteredAt;
            r *= expNeg(load<f32>(material, MATERIAL_ABSORPTION) * way);
            g *= expNeg(load<f32>(material, MATERIAL_ABSORPTION + 4) * way);
            b *= expNeg(load<f32>(material, MATERIAL_ABSORPTION + 8) * way);
          }
        }
      }
      transmittanceR *= 1 - alpha + alpha * r;
      transmittanceG *= 1 - alpha + alpha * g;
      transmittanceB *= 1 - alpha + alpha * b;
      if (transmittanceR + transmittanceG + transmittanceB <= 0) return false;
    }
    ox += t * dx;
    oy += t * dy;
    oz += t * dz;
    travelled += t;
    left -= t;
    if (left <= 0) return true;
  }
  return true;
}

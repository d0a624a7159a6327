/** How much light passes from a point to a lamp: nothing behind an opaque part, dimmed by glass and alpha. */
import {
  FRAME_TREE, FRAME_ROOT, FRAME_INSTANCES, FRAME_HAS_GLASS, FRAME_EXTENT, FRAME_CAUSTICS, BLOCKS, FILTERS,
  FINISH_ALPHA_MODE, FINISH_ABSORPTION, THIN,
} from "./layout";
import { nearest, blocked, hitDistance } from "./traverse";
import { readHit, hitFinish, shadeX, shadeY, shadeZ } from "./hit";
import { alphaOf, readFinish } from "./material";
import { baseR, baseG, baseB, ior, transmission, flags, keepLook, giveLookBack } from "./look";
import { decay } from "./math";
import { fresnel } from "./surface";

export let passR: f32 = 0;
export let passG: f32 = 0;
export let passB: f32 = 0;

/** Panes in a row that a shadow ray looks through before it goes on as if there were no more. */
const MOST_PANES: i32 = 32;

/** Fills passR .. passB; false where nothing passes. */
export function passes(frame: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32): bool {
  const tree = <usize>load<u32>(frame + FRAME_TREE), root = load<i32>(frame + FRAME_ROOT), at = <usize>load<u32>(frame + FRAME_INSTANCES);
  passR = passG = passB = 1;
  if (blocked(tree, root, at, BLOCKS, ox, oy, oz, dx, dy, dz, far)) return false;
  if (load<u32>(frame + FRAME_HAS_GLASS) == 0) return true;
  if (!nearest(tree, root, at, FILTERS, ox, oy, oz, dx, dy, dz, far)) return true;
  const opaque = load<u32>(frame + FRAME_CAUSTICS) != 0;
  keepLook();
  const open = throughPanes(frame, tree, root, at, opaque, ox, oy, oz, dx, dy, dz, far);
  giveLookBack();
  return open;
}

function throughPanes(frame: usize, tree: usize, root: i32, at: usize, opaque: bool, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32): bool {
  const eps: f32 = load<f32>(frame + FRAME_EXTENT) * <f32>1e-5;
  let left = far;
  let travelled: f32 = 0;
  let enteredAt: f32 = -1;
  for (let i: i32 = 0; i < MOST_PANES; i++) {
    // The first was found by the caller.
    if (i > 0 && !nearest(tree, root, at, FILTERS, ox, oy, oz, dx, dy, dz, left)) return true;
    const finish = hitFinish(frame, ox + hitDistance * dx, oy + hitDistance * dy, oz + hitDistance * dz);
    const t: f32 = hitDistance + eps;
    const outside = readHit(dx, dy, dz);
    let alpha: f32 = load<u32>(finish + FINISH_ALPHA_MODE) != 0 ? alphaOf(finish) : 1;
    if (alpha > 0) {
      readFinish(finish, dx, dy, dz);
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
            r *= decay(load<f32>(finish, FINISH_ABSORPTION) * way);
            g *= decay(load<f32>(finish, FINISH_ABSORPTION + 4) * way);
            b *= decay(load<f32>(finish, FINISH_ABSORPTION + 8) * way);
          }
        }
      }
      passR *= 1 - alpha + alpha * r;
      passG *= 1 - alpha + alpha * g;
      passB *= 1 - alpha + alpha * b;
      if (passR + passG + passB <= 0) return false;
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

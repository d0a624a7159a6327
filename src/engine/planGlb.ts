/** The plan as a GLB: reads the canonical model, dresses it as the pictures wear it, adds cameras and motions. */
import { type Frame, shotIdOf } from '../core/plan/frame.js';
import { runName, type SetFile } from '../core/plan/set.js';
import { writePlanGlb } from '../formats/glb/plan.js';
import { readModel } from '../formats/formats.js';
import { dressScene } from './dress.js';

/** `glb` is the canonical model, `frames` the set's whole plan on it. Throws where a finish is known nowhere. */
export async function planGlb(set: SetFile, glb: Uint8Array, frames: readonly Frame[]): Promise<Uint8Array> {
  const model = await readModel([{ name: `${set.name}.glb`, bytes: glb }], { unit: 'm', up: 'y' });
  const dressing = frames[0]?.dressing;
  const dressed = dressing ? dressScene(model, dressing) : model;
  // What does not come out in pictures is not handed on.
  const shown = { ...dressed, parts: dressed.parts.map((p) => (p.inPicture ? p : { ...p, primitives: [] })) };
  // A camera has no pixels: further sizes of a shot would only double it.
  const main = frames.filter((f) => f.shot === shotIdOf(f.shot));
  return writePlanGlb(shown, main, {
    view: (id) => set.views.find((v) => v.id === id)?.name ?? id,
    shot: (id) => runName(set, id),
  });
}

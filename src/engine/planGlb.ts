/** The plan as a GLB: reads the canonical model, dresses it as the pictures wear it, adds cameras and motions. */
import { type Frame } from '../core/plan/frame.js';
import { type SetFile } from '../core/plan/set.js';
import { shotName } from '../core/shot/kinds.js';
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
  return writePlanGlb(shown, frames, {
    view: (id) => set.views.find((v) => v.id === id)?.name ?? id,
    shot: (id) => {
      const shot = set.shots.find((s) => s.id === id);
      return shot ? shotName(shot) : id;
    },
  });
}

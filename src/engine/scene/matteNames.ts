/** Names that mattes may have in a frame: those of what can be seen in it, with what parts are given and what the frame adds. */
import type { Frame } from '../../core/frame/frame.js';
import { CAP_NAME, GROUND_NAME, HATCH_NAME } from '../../core/image/addedNames.js';
import { applyMaterials } from './applyMaterials.js';
import type { CompiledScene } from './compile.js';
import { PLINTH } from './transformScene.js';

/** Names that mattes of a frame may carry. */
export interface MatteNames {
  /** Paths of rendered parts with faces. */
  parts: string[];
  /** Names of the materials on them, of the plinth, the ground and the cut faces. */
  materials: string[];
}

/** Of a frame and the scene as compiled, before the frame's materials. Throws where an assigned material is known nowhere. */
export function matteNames(
  { materials: assignments, transform, stage, section }: Pick<Frame, 'materials' | 'transform' | 'stage' | 'section'>,
  scene: Pick<CompiledScene, 'materials' | 'parts'>,
): MatteNames {
  const { parts, materials } = assignments ? applyMaterials(scene, assignments) : scene;
  const rendered = parts.filter((p) => p.renderVisible && p.primitives.length > 0);
  const inUse = rendered.flatMap((p) => p.primitives.map((q) => materials[q.material]!.name));
  const plinth = transform?.plinth;
  return {
    parts: [...rendered.map((p) => p.path), ...(plinth ? [PLINTH] : [])],
    materials: [
      ...new Set([
        ...inUse,
        ...(plinth ? [plinth.material] : []),
        ...(stage.base ? [GROUND_NAME] : []),
        ...(section?.cap ? [CAP_NAME] : []),
        ...(section?.hatch ? [HATCH_NAME] : []),
      ]),
    ],
  };
}

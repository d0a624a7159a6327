/** The identity of a frame: a hash of what makes its pixels, not of its name, number or time. */
import { type Camera } from '../view/camera.js';
import { ENGINE_VERSION, type Frame } from './frame.js';
import { hashOf } from './hash.js';

type Content = Pick<
  Frame,
  | 'grade'
  | 'camera'
  | 'turn'
  | 'shutter'
  | 'section'
  | 'dressing'
  | 'place'
  | 'stage'
  | 'size'
  | 'pixelAspect'
  | 'sampling'
  | 'passes'
  | 'clear'
  | 'lines'
>;

/** Identity and seed of a frame on a scene, told by the scene's content hash. */
export function identify(frame: Content, scene: string): { identity: string; seed: number } {
  const seenBy = ({ kind, eye, viewMatrix, projectionMatrix, lens }: Camera) => ({ kind, eye, viewMatrix, projectionMatrix, lens });
  const turn = frame.turn && { rotation: frame.turn.rotation, pivot: frame.turn.pivot, what: [...frame.turn.what].sort() };
  const content = {
    camera: seenBy(frame.camera),
    shutter: frame.shutter && { camera: seenBy(frame.shutter.camera), rotation: frame.shutter.rotation },
    section: frame.section,
    dressing: frame.dressing?.id,
    place: frame.place,
    turn,
    stage: frame.stage,
    // What comes out of the grade as it is, is traced for that grade.
    grade: frame.stage.asShown ? { ...frame.grade, glow: undefined } : undefined,
    size: frame.size,
    pixelAspect: frame.pixelAspect,
    passes: frame.passes,
    clear: frame.clear,
    lines: frame.lines,
    scene,
    engine: ENGINE_VERSION,
  };
  const identity = hashOf({ ...content, sampling: frame.sampling });
  // The seed leaves the sampling out: more samples of the same picture go on with the same sequence.
  return { identity, seed: parseInt(hashOf(content).slice(0, 8), 16) };
}

/** The identity of a frame: a hash of what makes its pixels, not of its name, number or time. */
import type { Camera } from '../camera/view.js';
import { ENGINE_VERSION, type Frame } from './frame.js';
import { canonicalJson, sha256Text } from '../base/hash.js';

type Content = Pick<
  Frame,
  | 'grade'
  | 'camera'
  | 'turn'
  | 'shutter'
  | 'section'
  | 'materials'
  | 'transform'
  | 'stage'
  | 'size'
  | 'pixelAspect'
  | 'sampling'
  | 'passes'
  | 'transparent'
  | 'lines'
>;

/** Canonical JSON of objects that many frames share, such as their stage: made once for each by whoever holds the map. */
export type SharedTexts = WeakMap<object, string>;

function sharedText(texts: SharedTexts, value: object | undefined): string | undefined {
  if (value === undefined) return undefined;
  let text = texts.get(value);
  if (text === undefined) texts.set(value, (text = canonicalJson(value)));
  return text;
}

/** What of a camera makes pixels, as canonical JSON. Frames in which nothing but the subject turns share one camera. */
function cameraText(texts: SharedTexts, camera: Camera): string {
  let text = texts.get(camera);
  if (text === undefined) {
    const { kind, eye, viewMatrix, projectionMatrix, lens } = camera;
    texts.set(camera, (text = canonicalJson({ kind, eye, viewMatrix, projectionMatrix, lens })));
  }
  return text;
}

const own = (value: unknown): string | undefined => (value === undefined ? undefined : canonicalJson(value));

/** A frame's content as canonical JSON, with its sampling or without it: written in the order of its keys, piece by piece. */
function contentOf(frame: Content, scene: string, sampling: Content['sampling'] | undefined, texts: SharedTexts): string {
  const { turn, shutter, stage } = frame;
  const shared = (value: object | undefined): string | undefined => sharedText(texts, value);
  const pieces: [string, string | undefined][] = [
    ['camera', cameraText(texts, frame.camera)],
    ['engine', own(ENGINE_VERSION)],
    // What comes out of the grade as it is, is traced for that grade.
    ['grade', stage.displayReferred ? own({ ...frame.grade, glow: undefined }) : undefined],
    ['lines', shared(frame.lines)],
    ['materials', own(frame.materials?.id)],
    ['passes', shared(frame.passes)],
    ['pixelAspect', own(frame.pixelAspect)],
    ['sampling', shared(sampling)],
    ['scene', own(scene)],
    ['section', own(frame.section)],
    ['shutter', shutter && `{"camera":${cameraText(texts, shutter.camera)},"rotation":${canonicalJson(shutter.rotation)}}`],
    ['size', shared(frame.size)],
    ['stage', shared(stage)],
    ['transform', shared(frame.transform)],
    ['transparent', own(frame.transparent)],
    ['turn', turn && own({ rotation: turn.rotation, pivot: turn.pivot, axis: turn.axis, what: [...turn.what].sort() })],
  ];
  let text = '';
  for (const [key, piece] of pieces) if (piece !== undefined) text += `${text === '' ? '' : ','}"${key}":${piece}`;
  return `{${text}}`;
}

/** The identity of a frame on a scene, told by the scene's content hash. */
export function identityOf(frame: Content, scene: string, texts: SharedTexts): string {
  return sha256Text(contentOf(frame, scene, frame.sampling, texts));
}

/** The seed of its random numbers. It leaves the sampling out: more samples of the same picture go on with the same sequence. */
export function seedOf(frame: Content, scene: string, texts: SharedTexts): number {
  return parseInt(sha256Text(contentOf(frame, scene, undefined, texts)).slice(0, 8), 16);
}

/** The identity of a frame: a hash of what makes its pixels, not of its name, number or time. */
import type { Camera } from '../camera/view.js';
import { ENGINE_VERSION, type Frame } from './frame.js';
import type { RenderedContent } from './renderedContent.js';
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

/** What stands there, and what it is made of, as hashes. */
interface Design {
  scene: string | undefined;
  materials: string | undefined;
}

/** Raised where frames with drawn lines come out otherwise. */
const LINES_FORM = 2;

/** What of a grade is traced for: the rest comes after the curve, or mixes what was traced. */
const tracedGrade = ({ exposure, whiteBalance, curve }: Frame['grade']) => ({ exposure, whiteBalance, curve });

/** A frame's content as canonical JSON, with its sampling or without it: written in the order of its keys, piece by piece. */
function contentOf(frame: Content, design: Design, sampling: Partial<Content['sampling']> | undefined, texts: SharedTexts): string {
  const { turn, shutter, stage } = frame;
  const shared = (value: object | undefined): string | undefined => sharedText(texts, value);
  const pieces: [string, string | undefined][] = [
    ['camera', cameraText(texts, frame.camera)],
    ['engine', own(ENGINE_VERSION)],
    // What comes out of the grade as it is, is traced for that grade.
    ['grade', stage.displayReferred ? own(tracedGrade(frame.grade)) : undefined],
    ['lines', frame.lines && `{"drawn":${shared(frame.lines)},"form":${LINES_FORM}}`],
    ['materials', own(design.materials)],
    ['passes', shared(frame.passes)],
    ['pixelAspect', own(frame.pixelAspect)],
    ['sampling', shared(sampling)],
    ['scene', own(design.scene)],
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
  return sha256Text(contentOf(frame, { scene, materials: frame.materials?.id }, frame.sampling, texts));
}

/** The same without what is drawn over it. */
const withoutLines = (frame: Content): Content => ({ ...frame, lines: undefined }) as Content;

/**
 * The seed of its random numbers. It leaves the sampling out: more samples of the same picture go on with the same sequence.
 * And it leaves the design out: two revisions, or two materials, have the same noise in the same shot, so that what differs
 * between their pictures is the design, and what renders nothing of a change has the same pixels. Lines are drawn over the
 * light that was traced, so that they do not count.
 */
export function seedOf(frame: Content, texts: SharedTexts): number {
  return parseInt(sha256Text(contentOf(withoutLines(frame), { scene: undefined, materials: undefined }, undefined, texts)).slice(0, 8), 16);
}

/** As the identity, but of what the frame renders of its model alone: equal keys, equal pixels, also of two revisions. */
export function pixelsKeyOf(frame: Content, { model, materials }: RenderedContent, texts: SharedTexts): string {
  return sha256Text(contentOf(frame, { scene: model, materials }, frame.sampling, texts));
}

/**
 * What a master is known by: what was traced, whatever is made of it afterwards. So it holds what pixelsKeyOf holds without
 * the filter for noise and how lines are drawn, but whether there are any. A master may stand in for another frame where these keys are equal.
 */
export function masterKeyOf(frame: Content, { model, materials }: RenderedContent, texts: SharedTexts): string {
  const traced = contentOf(withoutLines(frame), { scene: model, materials }, { ...frame.sampling, denoise: undefined }, texts);
  return sha256Text(frame.lines ? `${traced} lines ${LINES_FORM}` : traced);
}

const NO_PASSES: Frame['passes'] = [];

/**
 * What is seen in a frame, whatever is drawn over it, at whatever size of these proportions, and into whatever passes: equal keys, and
 * rays through it meet the same. @param sampling what of its sampling counts.
 */
export function viewKeyOf(frame: Content, scene: string, sampling: Partial<Content['sampling']>, texts: SharedTexts): string {
  const { width, height } = frame.size;
  const seen = { ...withoutLines(frame), passes: NO_PASSES, size: { width: width / height, height: 1 } };
  return sha256Text(contentOf(seen, { scene, materials: frame.materials?.id }, sampling, texts));
}

/** Raised where files of the same light come out with other bytes. */
const FILES_FORM = 3;

/** What a frame's files hold: equal keys, equal files but for their names. @param pixels as pixelsKeyOf, or the identity. */
export function filesKeyOf(frame: Pick<Frame, 'identity' | 'grade' | 'legend' | 'files' | 'shot' | 'view'>, pixels: string): string {
  const { identity, grade, legend, files, shot, view } = frame;
  // OpenEXR tells which frame it is.
  const told = files.some((f) => f.type === 'exr') ? { identity, shot, view } : undefined;
  return sha256Text(canonicalJson({ form: FILES_FORM, pixels, grade, legend, files, told }));
}

/** Parts of what makes a frame's pixels, each with what people call it. */
export const GROUNDS = {
  camera: 'camera',
  turn: 'turn or shutter',
  section: 'section',
  light: 'light',
  materials: 'materials',
  model: 'model',
  size: 'size',
  sampling: 'quality',
  passes: 'passes',
  lines: 'drawn lines',
  grade: 'grade',
  engine: 'engine',
} as const;
/** A key of {@link GROUNDS}. */
export type Ground = keyof typeof GROUNDS;
const GROUND_IDS = Object.keys(GROUNDS) as Ground[];

/** Hexadecimal digits that are kept of each part: a change goes unnamed once in 16 millions, and is still known by the identity. */
const DIGITS = 6;

/**
 * Short hashes of the parts of an identity, joined in the order of GROUNDS: two frames' texts tell what differs. Of a
 * frame it holds what the identity holds, and its grade, which makes files but no pixels.
 * @param content what the frame renders of its model.
 */
export function groundsOf(frame: Content, content: RenderedContent, texts: SharedTexts): string {
  const { turn, shutter, stage, size, pixelAspect } = frame;
  const values: Record<Ground, string | undefined> = {
    camera: cameraText(texts, frame.camera),
    turn: canonicalJson([
      turn && { rotation: turn.rotation, pivot: turn.pivot, axis: turn.axis, what: turn.what },
      shutter && cameraText(texts, shutter.camera),
    ]),
    section: own(frame.section),
    light: sharedText(texts, stage),
    materials: content.materials,
    model: `${content.model}${sharedText(texts, frame.transform) ?? ''}`,
    size: `${canonicalJson(size)}${pixelAspect}`,
    sampling: sharedText(texts, frame.sampling),
    passes: `${sharedText(texts, frame.passes)}${frame.transparent}`,
    lines: sharedText(texts, frame.lines),
    grade: sharedText(texts, frame.grade),
    engine: ENGINE_VERSION,
  };
  return GROUND_IDS.map((id) => sha256Text(values[id] ?? '').slice(0, DIGITS)).join('');
}

/** Which parts differ between two texts of groundsOf; none where one of them is of an earlier version. */
export function changedGrounds(before: string, after: string): Ground[] {
  if (before.length !== after.length) return [];
  return GROUND_IDS.filter((_, i) => before.slice(i * DIGITS, (i + 1) * DIGITS) !== after.slice(i * DIGITS, (i + 1) * DIGITS));
}

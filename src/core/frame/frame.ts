import type { CompiledAssignments } from '../materials/assignments.js';
import type { Caps } from './sectionCap.js';
import type { Legend } from './legend.js';
import type { FrameSun } from '../stage/daylight.js';
import type { Stage } from '../stage/stage.js';
import type { Camera, Size } from '../camera/view.js';
import type { Vec3 } from '../math/bounds.js';
import type { ResolvedTransform } from '../model/modelTransform.js';
import type { Chroma, ExrSplit, FileType, TiffCompression } from '../image/fileTypes.js';
import type { Grade } from '../image/grade.js';
import type { PassId } from '../image/passes.js';
import type { Rgb } from '../units/colour.js';

/** Bumped whenever the same frame would come out with other pixels. */
export const ENGINE_VERSION = '12';

/** What a turntable can turn. */
export const TURN_TARGETS = ['subject', 'camera', 'lights', 'environment'] as const;
/** One of {@link TURN_TARGETS}. */
export type TurnTarget = (typeof TURN_TARGETS)[number];

/** What is turned in a frame, about an axis through the pivot. */
export interface Turn {
  /** Degrees, as the plan counts them: start + step · i. */
  angle: number;
  /** Degrees that everything in `what` is turned by, counterclockwise seen from above, or from where `axis` points to. */
  rotation: number;
  pivot: Vec3;
  /** Unit direction of the axis through the pivot; absent where it is upright. */
  axis?: Vec3;
  what: TurnTarget[];
}

/** Reconstruction filters: where around a pixel's middle its samples lie. */
export const FILTERS = ['box', 'tent', 'gauss'] as const;

/** How a frame is rendered, and how much work is put into it. */
export interface Sampling {
  /** Shaded in seconds, or path traced. */
  mode: 'quick' | 'traced';
  /** Most samples a pixel. */
  samples: number;
  /** Mean relative error at which a part of the picture stops early; 0 = never. */
  noise: number;
  /** Seconds after which a picture is taken as it is; 0 = never. */
  seconds: number;
  /** Light finds its own way through glass and off mirrors, without shadow rays through glass. */
  caustics: boolean;
  /** Width in pixels. */
  filter: { kind: (typeof FILTERS)[number]; width: number };
  bounces: number;
  refractionDepth: number;
  denoise: boolean;
  /** Limit of one indirect contribution; 0 = none. */
  fireflyClamp: number;
}

/** What is cut away: the side that the normal points to. */
export interface CuttingPlane {
  normal: Vec3;
  /** normal · x on the plane, metres. */
  offset: number;
  /** Path of the one part that it cuts, with all below; the whole model where absent. */
  part?: string;
}

/** Planes that cut parts away, and how the cut faces look. */
export interface Section extends Caps {
  planes: CuttingPlane[];
}

/** What is otherwise when the shutter closes. */
export interface Shutter {
  camera: Camera;
  /** Degrees that the subject turns by meanwhile. */
  rotation: number;
}

/** Lossless compressions of OpenEXR by the standard's names: none, deflated line by line, or in blocks of 16 lines. */
export const EXR_COMPRESSIONS = ['none', 'zips', 'zip'] as const;
/** One of {@link EXR_COMPRESSIONS}. */
export type ExrCompression = (typeof EXR_COMPRESSIONS)[number];
/** What is taken where a file type does not say. */
export const DEFAULT_COMPRESSION = { png: 6, exr: 'zip', tiff: 'deflate' } as const;

/** One type of file that a frame is written as. */
export interface FileFormat {
  type: FileType;
  /** A channel; of OpenEXR half or single floats, 32 of Radiance for its colour with an exponent of its own. */
  bits: 8 | 16 | 32;
  /** 1..100, JPEG, WebP and AVIF only. */
  quality: number;
  /** Level of deflate, 0..9, PNG only; DEFAULT_COMPRESSION where absent. */
  level?: number;
  /** OpenEXR only; DEFAULT_COMPRESSION where absent. */
  exrCompression?: ExrCompression;
  /** OpenEXR only; all passes in one part where absent. */
  exrSplit?: ExrSplit;
  /** TIFF only; DEFAULT_COMPRESSION where absent. */
  tiffCompression?: TiffCompression;
  /** WebP that loses nothing. */
  lossless?: true;
  /** JPEG only; 4:4:4 where absent. */
  chroma?: Chroma;
  /** Pixels an inch that the file tells; nothing where absent. */
  dpi?: number;
}

/** Id of the shot that a run of frames belongs to. */
export function shotIdOfOutput(run: string): string {
  return run.split(/[+@]/)[0]!;
}

/** What the id of a run says: shot, and where they are not the first ones, variant and extra size. */
export function partsOfRun(run: string): { shot: string; variant?: string; size?: string } {
  const [, shot, variant, size] = /^([^+@]*)(?:\+([^@]*))?(?:@(.*))?$/.exec(run) ?? ['', run];
  return { shot: shot!, ...(variant !== undefined && { variant }), ...(size !== undefined && { size }) };
}

/** Frames of each run, runs and frames in their order. */
export function groupByShotOutput<F extends { shot: string }>(frames: readonly F[]): Map<string, F[]> {
  const runs = new Map<string, F[]>();
  for (const f of frames) {
    const run = runs.get(f.shot);
    if (run) run.push(f);
    else runs.set(f.shot, [f]);
  }
  return runs;
}

/**
 * Everything about one picture. Whatever shows, checks, renders, names or exports it reads this. A planned one tells its
 * identity and seed when it is asked (plannedFrame.ts): to change it, use changedFrame, since a plain copy lacks them.
 */
export interface Frame {
  /** Id of the shot; in a further size with "@" and the size's id behind, so that each size is a run of its own. */
  shot: string;
  kind: string;
  view: string;
  /** Id of the variant that is seen, where the set has some: a word for people, and no part of the identity. */
  variant?: string;
  index: number;
  number: number;
  /** Path without extension, by the set's name pattern, of the first pass. */
  name: string;
  /** The same of each pass, in the order of `passes`. */
  passNames: string[];
  /** Seconds from the start of the shot; 0 for stills. */
  time: number;
  size: Size;
  pixelAspect: number;
  camera: Camera;
  turn?: Turn;
  shutter?: Shutter;
  section?: Section;
  materials?: CompiledAssignments;
  /** Where the model stands, where that is not as its file has it. */
  transform?: ResolvedTransform;
  stage: Stage;
  /** Where the sun stands under daylight, and when. What it lights is in `stage`. */
  sun?: FrameSun;
  /** Burnt into the files that a person looks at, after the grade: no part of the identity. */
  legend?: Legend;
  sampling: Sampling;
  /** Made of the traced light afterwards, so it is no part of the identity; but where the backdrop comes out as it is. */
  grade: Grade;
  passes: PassId[];
  /** The model's lines are drawn over the picture: width in pixels, colour in linear light. */
  lines?: { width: number; colour: Rgb };
  /** Everything in one matt white. */
  clay?: boolean;
  /** The backdrop is left out and the picture has alpha. */
  transparent: boolean;
  files: FileFormat[];
  seed: number;
  /** Hash of what makes the pixels; equal identity, equal pixels. */
  identity: string;
}

/** The same frame otherwise. Its identity and seed stay those of the one it was made of, unless they are given. */
export function withFrame(frame: Frame, values: Partial<Frame>): Frame {
  return { ...frame, identity: frame.identity, seed: frame.seed, ...values };
}

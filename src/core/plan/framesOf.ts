/** From a set and a model to every picture: the one place where frames are made. */
import { type Bounds, type Vec3 } from '../geometry/bounds.js';
import { dressingOf } from '../dress/dressing.js';
import { type Pose } from '../shot/kind.js';
import { frameCount, kindOf, posesOf, type Shot, shotName } from '../shot/kinds.js';
import { MOST_FRAMES } from '../shot/turntable.js';
import { placedBounds, placedOf, withPlinth } from '../model/place.js';
import { daylightOf, daylightSchema, type FrameSun } from '../stage/daylight.js';
import { lampsOn, seesSky, type Stage, stageAround, turnedAround, underDaylight } from '../stage/stage.js';
import { panoramaSize } from '../view/camera.js';
import { parseRate } from '../units/rate.js';
import { parseHex } from '../units/colour.js';
import { type Frame, type Section } from './frame.js';
import { identify } from './identity.js';
import { fileWord, fillPattern } from './names.js';
import { type SetFile } from './set.js';
import { filesOf, filesProblem, samplingOf } from './sheet.js';

export interface PlanContext {
  /** Bounds of the model, used where the set has no reference of its own. */
  bounds: Bounds;
  /** Content hash of the model. */
  scene: string;
  project?: string;
  model?: string;
  revision?: string;
  batch?: string;
  /** Content hash of the surround's picture, where the set names it otherwise. */
  surround?: string;
}

/** The set's planes with unit normals, its cap in linear light. */
function sectionOf({ section }: SetFile): Section | undefined {
  if (!section) return undefined;
  const planes = section.planes.map((p) => {
    const n = Math.hypot(...p.normal);
    return { ...p, normal: p.normal.map((c) => c / n) as Vec3 };
  });
  return { planes, ...(section.cap && { cap: parseHex(section.cap) }) };
}

/** What the set cuts away, and what a shot does. */
function cutBy(section: Section | undefined, plane: Pose['plane']): Section | undefined {
  return plane ? { ...section, planes: [...(section?.planes ?? []), plane] } : section;
}

/** Bounds that fits, pivots and stages of a set refer to: frozen with it, or those of the model as the set stands it. */
export function boundsOf(set: Pick<SetFile, 'reference' | 'place'>, model: Bounds): Bounds {
  return set.reference ?? placedBounds(set.place, model);
}

/** Frames of all shots, without computing them. */
export function countFrames(set: SetFile): number {
  const rate = parseRate(set.sheet.rate);
  return set.shots.reduce((n, shot) => n + frameCount(shot, { rate, views: set.views, site: set.stage.site }), 0);
}

/** The stage of each pose: the same one, but for the sun that a shot moves. */
function lighting(set: SetFile, bounds: Bounds, picture?: string): (pose: Pose) => { stage: Stage; sun?: FrameSun } {
  const { site } = set.stage;
  const plain = stageAround(set.stage, bounds, picture);
  const lit = (moved?: Pose['daylight']): { stage: Stage; sun?: FrameSun } => {
    // What moves the sun is lit by it, whatever lights the rest of the set.
    const daylight = set.stage.daylight ?? (moved && daylightSchema.parse({}));
    if (!daylight) return { stage: plain };
    const light = daylightOf(moved ? { ...daylight, later: undefined, free: undefined, ...moved } : daylight, site);
    return { stage: underDaylight(plain, light, seesSky(set.stage), lampsOn(set.stage)), sun: light.sun };
  };
  let shared: { stage: Stage; sun?: FrameSun } | undefined;
  return ({ daylight: moved, view }) => {
    const { date, time } = view.shows ?? {};
    // A view's own time counts where the set is lit by the sun, and the shot does not move it.
    if (!moved && set.stage.daylight && (date ?? time)) return lit({ date: date ?? set.stage.daylight.date, time: time ?? set.stage.daylight.time });
    return moved ? lit(moved) : (shared ??= lit());
  };
}

function framesOfShot(set: SetFile, shot: Shot, context: PlanContext): Frame[] {
  const { sheet } = set;
  const rate = parseRate(sheet.rate);
  const bounds = boundsOf(set, context.bounds);
  const place = placedOf(set.place, context.bounds);
  const lightOf = lighting(set, withPlinth(set.place, bounds), context.surround);
  const sampling = samplingOf(sheet.quality);
  const section = sectionOf(set);
  const worn = new Map<string | undefined, ReturnType<typeof dressingOf>>();
  const dressed = (variant?: string): { dressing?: ReturnType<typeof dressingOf> } => {
    if (!worn.has(variant)) worn.set(variant, dressingOf(variant && set.dressing ? { ...set.dressing, variant } : set.dressing));
    const dressing = worn.get(variant);
    return dressing ? { dressing } : {};
  };
  const files = filesOf(sheet);
  const kind = kindOf(shot);
  const pattern = kind.moving ? sheet.names.moving : sheet.names.still;
  const poses = posesOf(shot, {
    views: set.views,
    rate,
    size: sheet.size,
    pixelAspect: sheet.pixelAspect,
    shutter: kind.moving ? sheet.shutter / 360 : 0,
    bounds,
    site: set.stage.site,
  });
  return poses.map((pose, index) => {
    const number = sheet.firstNumber + index;
    const size = pose.camera.kind === 'panorama' ? panoramaSize(sheet.size) : sheet.size;
    const { camera, turn, shutter } = pose;
    const { stage: lit, sun } = lightOf(pose);
    const stage = turn?.what.includes('surround') ? turnedAround(lit, turn.rotation) : lit;
    const content = {
      camera,
      turn,
      shutter,
      section: cutBy(pose.view.shows?.section === false ? undefined : section, pose.plane),
      ...dressed(pose.view.shows?.variant),
      ...(place && { place }),
      stage,
      size,
      pixelAspect: sheet.pixelAspect,
      sampling,
      passes: sheet.passes,
      clear: sheet.alpha,
      ...(sheet.lines && { lines: { width: sheet.lines.width, colour: parseHex(sheet.lines.colour) } }),
    };
    const words = {
      project: context.project ?? 'project',
      model: context.model ?? 'model',
      revision: context.revision ?? 'A',
      batch: context.batch ?? '1',
      set: set.name,
      shot: shotName(shot),
      view: pose.view.name,
      size: `${size.width}x${size.height}`,
      number,
      ...(sun?.date && { date: sun.date, time: sun.time!.replace(':', '') }),
    };
    let known: ReturnType<typeof identify> | undefined;
    const passNames = sheet.passes.map((pass) => fillPattern(pattern, { ...words, pass }));
    return {
      shot: shot.id,
      kind: shot.kind,
      view: pose.view.id,
      index,
      number,
      name: passNames[0]!,
      passNames,
      time: pose.time,
      ...content,
      ...(sun && { sun }),
      grade: set.grade,
      files,
      // Hashing takes most of the time of a plan, and few who read one ask for it.
      get identity() {
        return (known ??= identify(content, context.scene)).identity;
      },
      get seed() {
        return (known ??= identify(content, context.scene)).seed;
      },
    };
  });
}

/**
 * Every frame of the set, shot by shot. Pure: the same set and context give the same frames.
 * Throws where two frames would have one name, or where there are more than 100 000.
 */
export function framesOf(set: SetFile, context: PlanContext): Frame[] {
  const total = countFrames(set);
  if (total > MOST_FRAMES) throw new Error(`The set has ${total} frames; ${MOST_FRAMES} is the most. Make a shot shorter or split the set.`);
  const frames = set.shots.flatMap((shot) => framesOfShot(set, shot, context));
  const problem = filesProblem(set.sheet);
  if (problem) throw new Error(problem);
  const taken = new Map<string, Frame>();
  for (const [frame, name] of frames.flatMap((f) => f.passNames.map((n) => [f, n] as const))) {
    // File systems that fold case would write one over the other.
    const key = name.toLowerCase();
    const other = taken.get(key);
    if (other === frame) throw new Error(`Passes of one frame would all be named "${name}". Put {pass} into the pattern.`);
    if (other) {
      throw new Error(
        `Two frames would be named "${name}": shot ${other.shot} frame ${other.number} and shot ${frame.shot} frame ${frame.number}. Give the shots different names, or put {shot}, {view} or {frame} into the pattern.`,
      );
    }
    taken.set(key, frame);
  }
  return frames;
}

/** A set's name as a folder. */
export function setFolder(set: SetFile): string {
  return fileWord(set.name);
}

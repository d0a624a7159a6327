/** From a set and a model to every picture: the one place where frames are made. */
import type { Bounds, Vec3 } from '../math/bounds.js';
import { type CompiledAssignments, assignmentsForView, compileAssignments } from '../materials/assignments.js';
import { capsOf } from '../frame/sectionCap.js';
import type { Pose } from '../frame/pose.js';
import { frameCount, kindOf, shotPoses, type Shot, shotName, viewIds } from '../shots/kinds.js';
import { formatSunLabel } from '../frame/legend.js';
import { MAX_FRAMES } from '../shots/turntable/turntable.js';
import { transformedBounds, resolveTransform, withPlinth } from '../model/modelTransform.js';
import { daylightOf, daylightSchema, type FrameSun } from '../stage/daylight.js';
import { enabledLights, isSkyVisible, type Stage, fitStagePreset, type StageSettings, rotateEnvironment, applyDaylight } from '../stage/stage.js';
import { cameraOf, type Size, type View } from '../camera/view.js';
import { frameSize, subjectZoom, reframe } from '../camera/framing.js';
import { parseRate } from '../units/rate.js';
import type { Grade } from '../image/grade.js';
import type { Frame, Section } from '../frame/frame.js';
import { slugify, compileNamePattern, withTokens } from '../plan/fileNames.js';
import type { NameToken } from '../frame/nameTokens.js';
import { type SharedFields, PlannedFrame } from '../frame/plannedFrame.js';
import { type SetFile, stageOf } from '../plan/set.js';
import { fileFormats, validateOutputs, type ExtraSize, type FormatSheet, effectiveSettings } from '../plan/formatSheet.js';
import { type ShotOutput, shotOutputs } from '../plan/outputs.js';
import { gradedFields } from '../plan/grading.js';
import { reserveName } from './names.js';
import { PlanCache, type PlannedShot } from './planCache.js';
import { viewsInVariant } from './viewsInVariant.js';

/** What planning needs to know of the model. */
export interface PlanContext {
  /** Bounds of the model, used where the set has no reference of its own. */
  bounds: Bounds;
  /** Content hash of the model. */
  scene: string;
  project?: string;
  model?: string;
  revision?: string;
  batch?: string;
  /** Content hashes of the stages' environment images by the files that the set names. */
  environments?: Readonly<Record<string, string>>;
}

/** The planes of the set's section, or of the one that a view names, with unit normals; its cap in linear light. */
function sectionOf(set: SetFile, wanted: false | string | undefined): Section | undefined {
  const section = typeof wanted === 'string' ? set.sections?.find((s) => s.id === wanted) : set.section;
  if (!section || wanted === false) return undefined;
  const planes = section.planes.map((p) => {
    const n = Math.hypot(...p.normal);
    return { ...p, normal: p.normal.map((c) => c / n) as Vec3 };
  });
  return { planes, ...capsOf(section) };
}

/** What the set cuts away, and what a shot does. */
function cutBounds(section: Section | undefined, { plane, caps }: Pick<Pose, 'plane' | 'caps'>): Section | undefined {
  return plane ? { ...section, ...(caps && capsOf(caps)), planes: [...(section?.planes ?? []), plane] } : section;
}

/** Bounds that fits, pivots and stages of a set refer to: frozen with it, or those of the model as the set stands it. */
export function subjectBounds(set: Pick<SetFile, 'reference' | 'transform'>, model: Bounds): Bounds {
  return set.reference ?? transformedBounds(set.transform, model);
}

/** Frames of all shots, without computing them. @param memo keeps what planning them needs as well. */
export function countFrames(set: SetFile, memo?: PlanCache['memo']): number {
  return set.shots.reduce((n, shot) => {
    const sheet = effectiveSettings(set.sheet, shot);
    return (
      n +
      frameCount(shot, { rate: parseRate(sheet.rate), views: set.views, site: stageOf(set, shot.stage).site, memo }) * shotOutputs(sheet, shot).length
    );
  }, 0);
}

type FrameLighting = (pose: Pose) => { stage: Stage; sun?: FrameSun };

/** The stage of each pose: the same one, but for the sun that a shot moves. */
function lightingOf(choice: StageSettings, bounds: Bounds, pictures: PlanContext['environments']): FrameLighting {
  const { site } = choice;
  const plain = fitStagePreset(choice, bounds, choice.environment && pictures?.[choice.environment.file]);
  const lit = (moved?: Pose['daylight']): { stage: Stage; sun?: FrameSun } => {
    // What moves the sun is lit by it, whatever lights the rest of the set.
    const daylight = choice.daylight ?? (moved && daylightSchema.parse({}));
    if (!daylight) return { stage: plain };
    const light = daylightOf(moved ? { ...daylight, later: undefined, manualSun: undefined, ...moved } : daylight, site);
    return { stage: applyDaylight(plain, light, isSkyVisible(choice), enabledLights(choice)), sun: light.sun };
  };
  let shared: { stage: Stage; sun?: FrameSun } | undefined;
  return ({ daylight: moved, view }) => {
    const { date, time } = view.overrides ?? {};
    // A view's own time counts where the set is lit by the sun, and the shot does not move it.
    if (!moved && choice.daylight && (date ?? time)) return lit({ date: date ?? choice.daylight.date, time: time ?? choice.daylight.time });
    return moved ? lit(moved) : (shared ??= lit());
  };
}

/** What is the same for all shots of a plan, computed when first asked for. */
function sharedFields(
  set: SetFile,
  context: PlanContext,
): { light: (stage?: string) => FrameLighting; assignmentsOf: (view: View) => CompiledAssignments | undefined; texts: SharedFields['texts'] } {
  const floor = withPlinth(set.transform, subjectBounds(set, context.bounds));
  const lights = new Map<string | undefined, FrameLighting>();
  const compiled = new Map<string, CompiledAssignments | undefined>();
  return {
    light: (id) => {
      const known = lights.get(id) ?? lightingOf(stageOf(set, id), floor, context.environments);
      lights.set(id, known);
      return known;
    },
    assignmentsOf: ({ overrides }) => {
      const key = [overrides?.variant ?? '', ...(overrides?.hiddenParts ?? [])].join('\n');
      if (!compiled.has(key)) compiled.set(key, compileAssignments(assignmentsForView(set.materials, overrides)));
      return compiled.get(key);
    },
    texts: new WeakMap(),
  };
}

function framesOfShot(set: SetFile, shot: Shot, context: PlanContext, shared: ReturnType<typeof sharedFields>, { memo }: PlanCache): PlannedFrame[] {
  const sheet = effectiveSettings(set.sheet, shot);
  const outputs = shotOutputs(sheet, shot);
  const tokens: NameToken[] = [
    ...(kindOf(shot).requiredTokens?.(shot) ?? []),
    ...(outputs.some((o) => o.further) ? (['size'] as const) : []),
    ...(outputs.some((o) => o.variant !== undefined) ? (['variant'] as const) : []),
  ];
  return outputs.flatMap(({ run, size, further, variant }) => {
    const lens = further && lensFor(further, set, shot, sheet, context);
    return framesOfOutput({ ...set, sheet: { ...sheet, size } }, shot, { run, variant }, context, shared, tokens, memo, lens);
  });
}

/** How views look through a further size. A shot that moves keeps to one zoom, or the picture would breathe. */
function lensFor({ width, height, framing }: ExtraSize, set: SetFile, shot: Shot, sheet: FormatSheet, context: PlanContext): (view: View) => View {
  const size = { width, height };
  const zoom = (view: View): number => subjectZoom(view, sheet.size, size, sheet.pixelAspect, subjectBounds(set, context.bounds));
  const kind = kindOf(shot);
  const first = kind.moving && set.views.find((v) => v.id === viewIds(shot)[0]);
  const fixed = kind.moving ? (first ? zoom(first) : 1) : undefined;
  return (view) => reframe(view, sheet.size, size, sheet.pixelAspect, framing, framing === 'fitSubject' ? (fixed ?? zoom(view)) : 1);
}

/** Frames of a shot in one size; `tokens` must tell their names apart. */
function framesOfOutput(
  set: SetFile,
  shot: Shot,
  { run, variant }: Pick<ShotOutput, 'run' | 'variant'>,
  context: PlanContext,
  { light, assignmentsOf, texts }: ReturnType<typeof sharedFields>,
  tokens: NameToken[],
  memo: PlanCache['memo'],
  lens: (view: View) => View = (view) => view,
): PlannedFrame[] {
  const { sheet } = set;
  const rate = parseRate(sheet.rate);
  const bounds = subjectBounds(set, context.bounds);
  const place = resolveTransform(set.transform, context.bounds);
  const sections = new Map<false | string | undefined, Section | undefined>();
  const kind = kindOf(shot);
  const pattern = withTokens(kind.moving ? sheet.names.moving : sheet.names.still, tokens);
  if (pattern.includes('{author}') && !set.author)
    throw new Error('The file names have {author}, and the set names no author. Write one in the field Author, or remove the token.');
  const inVariant = viewsInVariant(variant);
  const poses = shotPoses(shot, {
    views: set.views,
    rate,
    cameraOf: (view) => cameraOf(lens(view), sheet.size, sheet.pixelAspect),
    shutter: kind.moving ? sheet.shutter / 360 : 0,
    bounds,
    site: stageOf(set, shot.stage).site,
    memo,
  });
  const namers = sheet.passes.map(() => compileNamePattern(pattern));
  const fixed = {
    project: context.project ?? 'project',
    model: context.model ?? 'model',
    revision: context.revision ?? 'A',
    batch: context.batch ?? '1',
    set: set.name,
    shot: shotName(shot),
    ...(set.author && { author: set.author }),
  };
  const variantOf = (view: View): string | undefined => view.overrides?.variant ?? set.materials?.variant;
  // Words of names, a set of them a pass, made anew only where they change: most frames of a plan differ in their numbers alone.
  let words: { view: View; width: number; height: number; sun: FrameSun | undefined; passes: Record<string, string>[] } | null = null;
  const wordsOf = (view: View, { width, height }: Size, sun: FrameSun | undefined): Record<string, string>[] => {
    if (!words || words.view !== view || words.width !== width || words.height !== height || words.sun !== sun) {
      const own = {
        ...fixed,
        view: view.name,
        size: `${width}x${height}`,
        variant: variantOf(view) ?? 'as-set',
        ...(sun?.date && { date: sun.date, time: sun.time!.replace(':', '') }),
      };
      words = { view, width, height, sun, passes: sheet.passes.map((pass) => ({ ...own, pass })) };
    }
    return words.passes;
  };
  const alike = {
    shot: run,
    kind: shot.kind,
    scene: context.scene,
    texts,
    transform: place,
    pixelAspect: sheet.pixelAspect,
    passes: sheet.passes,
    transparent: sheet.alpha,
    files: fileFormats(sheet),
  };
  const graded = new Map<Grade, SharedFields>();
  const fieldsOf = (grade: Grade): SharedFields => {
    let fields = graded.get(grade);
    if (!fields) graded.set(grade, (fields = { ...alike, ...gradedFields(sheet, grade) }));
    return fields;
  };
  const gradeOfShot = shot.grade ?? set.grade;
  return poses.map((planned, index) => {
    const pose = variant === undefined ? planned : { ...planned, view: inVariant(planned.view) };
    const number = sheet.firstNumber + index;
    const size = frameSize(pose.camera, sheet.size);
    const { turn } = pose;
    const { overrides } = pose.view;
    const { stage: lit, sun } = light(shot.stage ?? overrides?.stage)(pose);
    if (!sections.has(overrides?.section)) sections.set(overrides?.section, sectionOf(set, overrides?.section));
    const words = wordsOf(pose.view, size, sun);
    return new PlannedFrame(fieldsOf(pose.grade ?? gradeOfShot), pose, {
      index,
      number,
      passNames: namers.map((name, i) => name(words[i]!, number)),
      variant: variantOf(pose.view),
      section: cutBounds(sections.get(overrides?.section), pose),
      stage: turn?.what.includes('environment') ? rotateEnvironment(lit, turn.rotation) : lit,
      size,
      materials: assignmentsOf(pose.view),
      sun,
      legend: sun && pose.legend && { corner: pose.legend, text: formatSunLabel(sun) },
    });
  });
}

/**
 * Every frame of the set, shot by shot. Pure: the same set and context give the same frames.
 * Throws NameError where two frames would have one name or a name cannot be written, and Error where there are more than 100 000.
 * @param cache of whoever plans a set again and again.
 */
export function planFrames(set: SetFile, context: PlanContext, cache = new PlanCache()): PlannedFrame[] {
  const total = countFrames(set, cache.memo);
  if (total > MAX_FRAMES) throw new Error(`The set has ${total} frames; ${MAX_FRAMES} is the most. Make a shot shorter or split the set.`);
  const problem = validateOutputs(set.sheet);
  if (problem) throw new Error(problem);
  for (const shot of set.shots) {
    const own = shot.overrides && validateOutputs(effectiveSettings(set.sheet, shot));
    if (own) throw new Error(`${shotName(shot)}: ${own}`);
  }
  const planned = plannedShots(set, context, cache);
  const taken = new Map<string, Frame>();
  for (const { frames, keys } of planned)
    for (let i = 0, k = 0; i < frames.length; i++) for (const name of frames[i]!.passNames) reserveName(taken, keys[k++]!, name, frames[i]!);
  return planned.flatMap((p) => p.frames);
}

function plannedShots(set: SetFile, context: PlanContext, cache: PlanCache): PlannedShot[] {
  const rest = JSON.stringify([{ ...set, shots: null, delivery: null, reels: null, waivers: null }, context]);
  const before = cache.planned(rest);
  const shared = sharedFields(set, context);
  const shots = new Map<string, PlannedShot>();
  const all = set.shots.map((shot) => {
    const key = JSON.stringify(shot);
    const known = before.get(key) ?? planShot(framesOfShot(set, shot, context, shared, cache));
    shots.set(key, known);
    return known;
  });
  cache.keep(rest, shots);
  return all;
}

function planShot(frames: PlannedFrame[]): PlannedShot {
  return { frames, keys: frames.flatMap((f) => f.passNames.map((n) => n.toLowerCase())) };
}

/** A set's name as a folder. */
export function setFolder(set: SetFile): string {
  return slugify(set.name);
}

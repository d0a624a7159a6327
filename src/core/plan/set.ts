/** The set file: the open form of a plan. docs/set-file.schema.json is made from this. */
import * as z from 'zod';
import { describeIssues } from '../base/issues.js';
import { materialAssignmentsSchema } from '../materials/assignments.js';
import { reelSchema } from './reel.js';
import { capFields } from '../frame/sectionCap.js';
import { kindOf, shotName, shotSchema } from '../shots/kinds.js';
import { modelTransformSchema } from '../model/modelTransform.js';
import { gradeSchema } from '../image/grade.js';
import { type StageSettings, stageSchema } from '../stage/stage.js';
import { idSchema, pointSchema, viewSchema } from '../camera/view.js';
import { shotIdOfOutput } from '../frame/frame.js';
import { deliverySchema } from './delivery.js';
import { MAX_WAIVERS, waiverSchema } from './waiver.js';
import { migrate } from './migrate.js';
import { SET_MIGRATIONS } from './setVersions.js';
import { formatSheetSchema, effectiveSettings } from './formatSheet.js';
import { shotOutputs } from './outputs.js';

/** What a set file calls itself. */
export const SET_FORMAT = 'cold-easel.set';
/** Version of the set file that is written; earlier ones are migrated, later ones refused. */
export const SET_VERSION = 2;
const MAX_SHOTS = 500;

const sectionFields = {
  planes: z
    .array(
      z.strictObject({
        /** Points to the side that is cut away. */
        normal: pointSchema.refine((n) => Math.hypot(...n) > 1e-6, 'The normal of a plane cannot be 0 0 0.'),
        /** normal · x of the points on the plane, metres, for a normal of length 1. */
        offset: z.number().min(-1e5).max(1e5),
        /** Path of the one part that is cut, with what hangs below it; all of the subject where absent. */
        part: z.string().min(1).max(500).optional(),
      }),
    )
    .min(1)
    .max(4),
  ...capFields,
};
const sectionSchema = z.strictObject(sectionFields);
const named = { id: idSchema, name: z.string().min(1).max(80) };

const boundsSchema = z.strictObject({ min: pointSchema, max: pointSchema });

function unique(list: { id: string }[], what: string, context: z.core.$RefinementCtx): void {
  const seen = new Set<string>();
  list.forEach((item, i) => {
    if (seen.has(item.id))
      context.addIssue({
        code: 'custom',
        path: [what, i, 'id'],
        message: `Another of the ${what} has the id "${item.id}"; give this one another id.`,
      });
    seen.add(item.id);
  });
}

/** A set file. */
export const setSchema = z
  .strictObject({
    format: z.literal(SET_FORMAT),
    version: z.literal(SET_VERSION),
    name: z.string().min(1).max(80),
    /** Who plans it, for file names. */
    author: z.string().min(1).max(80).optional(),
    sheet: formatSheetSchema.prefault({}),
    stage: stageSchema.prefault({}),
    /** How traced light becomes a picture, in every picture of the set. */
    grade: gradeSchema.prefault({}),
    /** How the model is stood up; it is as its file has it where absent. */
    transform: modelTransformSchema.optional(),
    /** Materials and visibility of parts where they differ from the model's file. */
    materials: materialAssignmentsSchema.optional(),
    /** What is cut away from the subject, or from one part, in every picture of the set. */
    section: sectionSchema.optional(),
    /** Further stages, that shots and views name. */
    stages: z
      .array(z.strictObject({ ...named, stage: stageSchema }))
      .max(50)
      .optional(),
    /** Further sections, that views name. */
    sections: z
      .array(z.strictObject({ ...named, ...sectionFields }))
      .max(100)
      .optional(),
    views: z.array(viewSchema).max(1000).default([]),
    shots: z.array(shotSchema).max(MAX_SHOTS).default([]),
    /** Movies of several shots. */
    reels: z.array(reelSchema).max(50).optional(),
    /** What the client asked for. */
    delivery: deliverySchema.optional(),
    /** Findings before a run that are accepted as they are. */
    waivers: z.array(waiverSchema).max(MAX_WAIVERS).optional(),
    /** Bounds that pivots and lights refer to, frozen when the set is first laid on a model. */
    reference: boundsSchema.optional(),
  })
  .superRefine((set, context) => {
    unique(set.views, 'views', context);
    unique(set.shots, 'shots', context);
    const ids = new Set(set.views.map((v) => v.id));
    const variants = new Set(set.materials?.variants.map((v) => v.id));
    unique(set.reels ?? [], 'reels', context);
    set.reels?.forEach((reel, i) =>
      reel.parts.forEach((part, k) => {
        if (!set.shots.some((s) => s.id === part.shot))
          context.addIssue({ code: 'custom', path: ['reels', i, 'parts', k, 'shot'], message: `There is no shot "${part.shot}" in this set.` });
      }),
    );
    unique(set.stages ?? [], 'stages', context);
    unique(set.sections ?? [], 'sections', context);
    unique(set.sheet.sizes ?? [], 'sizes', context);
    const has = (list: { id: string }[] | undefined, id: unknown, what: string, path: (string | number)[]): void => {
      if (typeof id === 'string' && !list?.some((s) => s.id === id))
        context.addIssue({ code: 'custom', path, message: `There is no ${what} "${id}" in this set.` });
    };
    set.views.forEach(({ overrides }, i) => {
      if (overrides?.variant && !variants.has(overrides.variant))
        context.addIssue({
          code: 'custom',
          path: ['views', i, 'overrides', 'variant'],
          message: `There is no variant "${overrides.variant}" in this set.`,
        });
      has(set.stages, overrides?.stage, 'stage', ['views', i, 'overrides', 'stage']);
      has(set.sections, overrides?.section, 'section', ['views', i, 'overrides', 'section']);
    });
    set.shots.forEach((shot, i) => {
      has(set.stages, shot.stage, 'stage', ['shots', i, 'stage']);
      shot.sizes?.forEach((id, k) => has(set.sheet.sizes, id, 'further size', ['shots', i, 'sizes', k]));
      const kind = kindOf(shot);
      shot.variants?.forEach((v, k) => has(set.materials?.variants, v, 'variant', ['shots', i, 'variants', k]));
      const reason = kind.siteReason?.(shot);
      if (reason && !stageOf(set, shot.stage).site)
        context.addIssue({
          code: 'custom',
          path: ['stage', 'site'],
          message: `The shot "${shot.id}" ${reason}; give the latitude and longitude of the site.`,
        });
      for (const [view, path] of kind.viewPaths(shot)) {
        if (!ids.has(view))
          context.addIssue({
            code: 'custom',
            path: ['shots', i, ...path],
            message: `There is no view "${view}" in this set; add it under views or choose another.`,
          });
      }
    });
  });

/** What {@link setSchema} reads. */
export type SetFile = z.infer<typeof setSchema>;

/** The stage of that id, or the set's first one. */
export function stageOf(set: Pick<SetFile, 'stage' | 'stages'>, id?: string): StageSettings {
  return (id && set.stages?.find((s) => s.id === id)?.stage) || set.stage;
}

/** What a run of frames (Frame.shot) is called: its shot, in a further size with that behind. */
export function outputName(set: Pick<SetFile, 'shots' | 'sheet' | 'materials'>, run: string): string {
  const shot = set.shots.find((s) => s.id === shotIdOfOutput(run));
  if (!shot) return run;
  const output = shotOutputs(effectiveSettings(set.sheet, shot), shot).find((o) => o.run === run);
  const variant = output?.variant && (set.materials?.variants.find((v) => v.id === output.variant)?.name ?? output.variant);
  const { further } = output ?? {};
  return [shotName(shot), ...(variant ? [variant] : []), ...(further ? [`${further.width}x${further.height}`] : [])].join(' ');
}

/** Files of the environment images that the set's stages name. */
export function environmentFiles(set: Pick<SetFile, 'stage' | 'stages'>): string[] {
  return [...new Set([set.stage, ...(set.stages ?? []).map((s) => s.stage)].flatMap((s) => s.environment?.file ?? []))];
}

/** Files of the pictures that stand behind everything on the set's stages. */
export function backdropFiles(set: Pick<SetFile, 'stage' | 'stages'>): string[] {
  return [...new Set([set.stage, ...(set.stages ?? []).map((s) => s.stage)].flatMap((s) => s.backdropImage?.file ?? []))];
}

/** A set without views and shots, with all defaults. */
export function emptySet(name: string): SetFile {
  return setSchema.parse({ format: SET_FORMAT, version: SET_VERSION, name });
}

/** Reads a set, of an earlier version too. Throws an Error whose message names each wrong place. */
export function parseSet(json: unknown): SetFile {
  const result = setSchema.safeParse(migrate(json, SET_VERSION, SET_MIGRATIONS, 'set'));
  if (!result.success) throw new Error(describeIssues(result.error).join('\n'));
  return result.data;
}

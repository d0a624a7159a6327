/** What is kept under a name to be used in another set or project: an open file too. */
import * as z from 'zod';
import { describeIssues } from '../base/issues.js';
import { gradeSchema } from '../image/grade.js';
import { stageSchema } from '../stage/stage.js';
import { angleOptionsSchema } from '../camera/angleSet.js';
import { deliverySchema } from '../plan/delivery.js';
import { parseSet, setSchema } from '../plan/set.js';
import { deliveryFrom1, qualityFrom1, sheetFrom1, stageFrom1 } from '../plan/setVersions.js';
import { formatSheetSchema } from '../plan/formatSheet.js';
import { qualitySchema } from '../frame/settings.js';

/** What a preset's file calls itself. */
export const PRESET_FORMAT = 'cold-easel.preset';
/** Version of the format that is written; later ones are refused. */
export const PRESET_VERSION = 2;
/** What a preset file of version 1 calls itself. */
const FORMER_FORMAT = 'cold-easel.recipe';

/** What a preset of each kind holds. */
export const PRESET_BODIES = {
  sheet: formatSheetSchema,
  quality: qualitySchema,
  set: setSchema,
  stage: stageSchema,
  angles: angleOptionsSchema,
  delivery: deliverySchema,
  grade: gradeSchema,
} as const;
/** A key of {@link PRESET_BODIES}. */
export type PresetKind = keyof typeof PRESET_BODIES;
/** All kinds of preset. */
export const PRESET_KINDS = Object.keys(PRESET_BODIES) as PresetKind[];
/** What a preset of that kind holds. */
export type PresetBody<K extends PresetKind> = z.infer<(typeof PRESET_BODIES)[K]>;

/** Of these a new project takes the default, where there is one. */
export const WITH_DEFAULT: readonly PresetKind[] = ['sheet', 'stage'];

const headSchema = z.object({
  format: z.enum([PRESET_FORMAT, FORMER_FORMAT], 'This is not a preset of Cold Easel.'),
  version: z.int().min(1).max(PRESET_VERSION, 'This preset is of a later version; update the application.'),
  kind: z.enum(PRESET_KINDS as [PresetKind, ...PresetKind[]]),
  name: z.string().min(1).max(80),
  body: z.unknown(),
});

/** Settings under a name, to be used in other sets. */
export interface Preset<K extends PresetKind = PresetKind> {
  kind: K;
  name: string;
  body: PresetBody<K>;
}

/** What brings a body of version 1 up to the present, by its kind. */
const FROM_1: Partial<Record<PresetKind, (body: unknown) => unknown>> = {
  sheet: sheetFrom1,
  quality: qualityFrom1,
  stage: stageFrom1,
  delivery: deliveryFrom1,
};

/** The body of a preset of an earlier version as the present one has it. A set says its version itself. */
export const presetBodyFrom = (version: number, kind: PresetKind, body: unknown): unknown => (version < 2 ? (FROM_1[kind]?.(body) ?? body) : body);

/** Reads a preset's body. Throws an Error that names each wrong place. */
export function parsePreset<K extends PresetKind>(kind: K, body: unknown): PresetBody<K> {
  if (kind === 'set') return parseSet(body) as PresetBody<K>;
  const result = PRESET_BODIES[kind].safeParse(body);
  if (!result.success) throw new Error(describeIssues(result.error).join('\n'));
  return result.data as PresetBody<K>;
}

/** Reads a preset file, of an earlier version too. Throws an Error that names each wrong place. */
export function parsePresetFile(json: unknown): Preset {
  const head = headSchema.safeParse(json);
  if (!head.success) throw new Error(describeIssues(head.error).join('\n'));
  const { version, kind, name, body } = head.data;
  return { kind, name, body: parsePreset(kind, presetBodyFrom(version, kind, body)) };
}

/** The preset as JSON, as it is exported. */
export function presetFile({ kind, name, body }: Preset): string {
  return `${JSON.stringify({ format: PRESET_FORMAT, version: PRESET_VERSION, kind, name, body }, null, 2)}\n`;
}

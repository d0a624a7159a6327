/** What is kept under a name to be used in another set or project: an open file too. */
import { z } from 'zod';
import { describeIssues } from '../base/issues.js';
import { stageSchema } from '../stage/stage.js';
import { angleOptionsSchema } from '../camera/angleSet.js';
import { deliverySchema } from '../plan/delivery.js';
import { setSchema } from '../plan/set.js';
import { formatSheetSchema } from '../plan/formatSheet.js';
import { qualitySchema } from '../frame/settings.js';

export const PRESET_FORMAT = 'cold-easel.recipe';

/** What a recipe of each kind holds. */
export const PRESET_BODIES = {
  sheet: formatSheetSchema,
  quality: qualitySchema,
  set: setSchema,
  stage: stageSchema,
  angles: angleOptionsSchema,
  delivery: deliverySchema,
} as const;
export type PresetKind = keyof typeof PRESET_BODIES;
export const PRESET_KINDS = Object.keys(PRESET_BODIES) as PresetKind[];
export type PresetBody<K extends PresetKind> = z.infer<(typeof PRESET_BODIES)[K]>;

/** Of these a new project takes the default, where there is one. */
export const WITH_DEFAULT: readonly PresetKind[] = ['sheet', 'stage'];

const headSchema = z.object({
  format: z.literal(PRESET_FORMAT, 'This is no recipe of Cold Easel.'),
  version: z.literal(1, 'This recipe is of a later version.'),
  kind: z.enum(PRESET_KINDS as [PresetKind, ...PresetKind[]]),
  name: z.string().min(1).max(80),
  body: z.unknown(),
});

export interface Preset<K extends PresetKind = PresetKind> {
  kind: K;
  name: string;
  body: PresetBody<K>;
}

/** Reads a recipe's body. Throws an Error that names each wrong place. */
export function parsePreset<K extends PresetKind>(kind: K, body: unknown): PresetBody<K> {
  const result = PRESET_BODIES[kind].safeParse(body);
  if (!result.success) throw new Error(describeIssues(result.error).join('\n'));
  return result.data as PresetBody<K>;
}

/** Reads a recipe file. Throws an Error that names each wrong place. */
export function parsePresetFile(json: unknown): Preset {
  const head = headSchema.safeParse(json);
  if (!head.success) throw new Error(describeIssues(head.error).join('\n'));
  const { kind, name, body } = head.data;
  return { kind, name, body: parsePreset(kind, body) };
}

export function presetFile({ kind, name, body }: Preset): string {
  return `${JSON.stringify({ format: PRESET_FORMAT, version: 1, kind, name, body }, null, 2)}\n`;
}

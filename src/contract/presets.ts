/** Requests and replies about presets. */
import * as z from 'zod';
import { PRESET_KINDS, type PresetKind } from '../core/edit/presets.js';
import type { Template } from '../core/edit/templates.js';

const kindSchema = z.enum(PRESET_KINDS as [PresetKind, ...PresetKind[]]);

/** A preset to be saved. */
export const newPreset = z.strictObject({ kind: kindSchema, name: z.string().trim().min(1, 'Give the preset a name.').max(80), body: z.unknown() });
/** What changes of a preset. */
export const changePreset = z.strictObject({
  name: z.string().trim().min(1, 'Give the preset a name.').max(80).optional(),
  /** What a new project begins with; of a kind there is one at most. */
  isDefault: z.boolean().optional(),
});
/** A set to be made by a template. */
export const fromTemplate = z.strictObject({
  template: z.string(),
  revision: z.int(),
  /** Path of the part that it is made to measure for; the whole subject where absent. */
  part: z.string().max(1000).optional(),
});
/** A preset. */
export const presetReply = z.object({ id: z.int(), kind: kindSchema, name: z.string(), isDefault: z.boolean(), body: z.unknown() });
/** What {@link presetReply} reads. */
export type PresetReply = z.infer<typeof presetReply>;

/** A set template as the list of them has it. */
export type TemplateReply = Pick<Template, 'id' | 'name' | 'help' | 'subject'>;

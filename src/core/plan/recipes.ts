/** What is kept under a name to be used in another set or project: an open file too. */
import { z } from 'zod';
import { describeIssues } from '../base/issues.js';
import { stageSchema } from '../stage/stage.js';
import { angleOptionsSchema } from '../view/angles.js';
import { deliverySchema } from './delivery.js';
import { setSchema } from './set.js';
import { qualitySchema, sheetSchema } from './sheet.js';

export const RECIPE_FORMAT = 'cold-easel.recipe';

/** What a recipe of each kind holds. */
export const RECIPE_BODIES = {
  sheet: sheetSchema,
  quality: qualitySchema,
  set: setSchema,
  stage: stageSchema,
  angles: angleOptionsSchema,
  delivery: deliverySchema,
} as const;
export type RecipeKind = keyof typeof RECIPE_BODIES;
export const RECIPE_KINDS = Object.keys(RECIPE_BODIES) as RecipeKind[];
export type RecipeBody<K extends RecipeKind> = z.infer<(typeof RECIPE_BODIES)[K]>;

/** Of these a new project takes the default, where there is one. */
export const WITH_DEFAULT: readonly RecipeKind[] = ['sheet', 'stage'];

const headSchema = z.object({
  format: z.literal(RECIPE_FORMAT, 'This is no recipe of Cold Easel.'),
  version: z.literal(1, 'This recipe is of a later version.'),
  kind: z.enum(RECIPE_KINDS as [RecipeKind, ...RecipeKind[]]),
  name: z.string().min(1).max(80),
  body: z.unknown(),
});

export interface Recipe<K extends RecipeKind = RecipeKind> {
  kind: K;
  name: string;
  body: RecipeBody<K>;
}

/** Reads a recipe's body. Throws an Error that names each wrong place. */
export function parseBody<K extends RecipeKind>(kind: K, body: unknown): RecipeBody<K> {
  const result = RECIPE_BODIES[kind].safeParse(body);
  if (!result.success) throw new Error(describeIssues(result.error).join('\n'));
  return result.data as RecipeBody<K>;
}

/** Reads a recipe file. Throws an Error that names each wrong place. */
export function parseRecipe(json: unknown): Recipe {
  const head = headSchema.safeParse(json);
  if (!head.success) throw new Error(describeIssues(head.error).join('\n'));
  const { kind, name, body } = head.data;
  return { kind, name, body: parseBody(kind, body) };
}

export function recipeFile({ kind, name, body }: Recipe): string {
  return `${JSON.stringify({ format: RECIPE_FORMAT, version: 1, kind, name, body }, null, 2)}\n`;
}

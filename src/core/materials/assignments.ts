/** Materials and visibility of parts where they differ from the file's: kept with the set, matched to any revision by paths and names. */
import * as z from 'zod';
import type { Material } from './material.js';
import { hashOf } from '../base/hash.js';
import { libraryMaterial } from './library.js';
import { materialNameSchema as nameSchema, toMaterial, customMaterialSchema, type TexturedMaterial } from './customMaterial.js';

const swapSchema = z.strictObject({ from: nameSchema, to: nameSchema });

/** What a set says of parts and of what they are made of. */
export const materialAssignmentsSchema = z.strictObject({
  /** What is set of a part by its path goes for all below it that is not set itself. */
  parts: z
    .array(
      z.strictObject({
        path: z.string().min(1).max(1000),
        /** Comes out in pictures. */
        renderVisible: z.boolean().optional(),
        /** Shown while working; pictures do not heed it. */
        viewportVisible: z.boolean().optional(),
        /** Context of the subject, which does not turn, is not cut and is not fitted; as the model's file has it where absent. */
        isContext: z.boolean().optional(),
        material: nameSchema.optional(),
        /** Materials of single groups of its faces, counted from 1 in the order of the file; they go before the part's. */
        faces: z
          .array(z.strictObject({ group: z.int().min(1).max(100_000), material: nameSchema }))
          .max(1000)
          .optional(),
      }),
    )
    .max(50_000)
    .default([]),
  /** Materials by part name; `*` matches any text, not case-sensitive. The last match applies. */
  rules: z
    .array(z.strictObject({ match: nameSchema, material: nameSchema }))
    .max(500)
    .default([]),
  /** Custom materials; they go before those of the library and of the model. */
  materials: z.array(customMaterialSchema).max(500).default([]),
  /** Replaces one material by another everywhere. */
  swaps: z.array(swapSchema).max(500).default([]),
  /** Named lists of swaps, of which one may be active. */
  variants: z
    .array(z.strictObject({ id: z.string().min(1).max(64), name: nameSchema, swaps: z.array(swapSchema).max(500) }))
    .max(100)
    .default([]),
  variant: z.string().max(64).optional(),
});

/** What {@link materialAssignmentsSchema} reads. */
export type MaterialAssignments = z.infer<typeof materialAssignmentsSchema>;
type PartAssignment = MaterialAssignments['parts'][number];

/** As a frame carries it: the variant's swaps joined on, known by the hash of what changes pixels. */
export interface CompiledAssignments {
  id: string;
  parts: PartAssignment[];
  rules: MaterialAssignments['rules'];
  swaps: MaterialAssignments['swaps'];
  materials: TexturedMaterial[];
}

/** The choice as a view has it: in another variant, and without some parts. */
export function assignmentsForView(
  choice: MaterialAssignments | undefined,
  overrides: { variant?: string; hiddenParts?: string[] } | undefined,
): MaterialAssignments | undefined {
  if (!overrides?.variant && !overrides?.hiddenParts) return choice;
  const base = choice ?? materialAssignmentsSchema.parse({});
  const out = new Set(overrides?.hiddenParts);
  const kept = base.parts.map((p) => (out.has(p.path) ? { ...p, renderVisible: false } : p));
  const known = new Set(base.parts.map((p) => p.path));
  return {
    ...base,
    ...(overrides.variant && { variant: overrides.variant }),
    parts: [...kept, ...[...out].filter((path) => !known.has(path)).map((path) => ({ path, renderVisible: false }))],
  };
}

/** The assignments of a set's renders, compiled, or undefined where they change nothing. Throws where a material is not known. */
export function compileAssignments(choice: MaterialAssignments | undefined): CompiledAssignments | undefined {
  if (!choice) return undefined;
  const { rules, materials } = choice;
  const variant = choice.variant === undefined ? undefined : choice.variants.find((v) => v.id === choice.variant);
  if (choice.variant !== undefined && !variant) throw new Error(`There is no variant "${choice.variant}" in this set; choose another.`);
  const parts = choice.parts
    .filter((p) => p.renderVisible !== undefined || p.isContext !== undefined || p.material !== undefined || p.faces !== undefined)
    .map(({ viewportVisible: _, ...p }) => p);
  const swaps = [...choice.swaps, ...(variant?.swaps ?? [])];
  if (parts.length + rules.length + swaps.length === 0) return undefined;
  const content = { parts, rules, swaps, materials: materials.map(toMaterial) };
  return { id: hashOf(content), ...content };
}

/** Tells whether a name fits a pattern in which `*` stands for anything. */
export function compileWildcard(pattern: string): (name: string) => boolean {
  const words = pattern.split('*').map((w) => w.replace(/[.+?^${}()|[\]\\]/g, '\\$&'));
  const form = new RegExp(`^${words.join('.*')}$`, 'is');
  return (name) => form.test(name);
}

/** What goes for one part, after what is said of those above it. */
export interface ResolvedPart {
  renderVisible: boolean;
  viewportVisible: boolean;
  isContext: boolean;
  /** Name of the material that takes the place of each primitive's own; null where that stays. */
  materials: (string | null)[];
}

interface AssignablePart {
  path: string;
  renderVisible: boolean;
  /** As its file has it; subject where absent. */
  isContext?: boolean;
  /** Names of its primitives' own materials. */
  materials: string[];
  /** Which of the part's groups of faces the first of them is, from 0. */
  first?: number;
}

/** Materials and visibility of each part under the assignments; a part is known by its path, which says what it is below. */
export function resolveMaterials(
  parts: readonly AssignablePart[],
  { parts: choices, rules, swaps }: Pick<MaterialAssignments, 'parts' | 'rules' | 'swaps'>,
): ResolvedPart[] {
  const byPath = new Map(choices.map((c) => [c.path, c]));
  const inherited = <K extends 'renderVisible' | 'viewportVisible' | 'isContext' | 'material'>(path: string, key: K): PartAssignment[K] => {
    for (let at = path; ;) {
      const value = byPath.get(at)?.[key];
      if (value !== undefined) return value;
      const cut = at.lastIndexOf('/');
      if (cut < 0) return undefined;
      at = at.slice(0, cut);
    }
  };
  const named = rules.map((r) => ({ material: r.material, fits: compileWildcard(r.match) }));
  const swapped = (name: string): string => swaps.reduce((n, s) => (s.from === n ? s.to : n), name);
  return parts.map(({ path, renderVisible, isContext = false, materials, first = 0 }) => {
    const name = path.slice(path.lastIndexOf('/') + 1);
    const faces = byPath.get(path)?.faces;
    const assigned = inherited(path, 'material') ?? named.findLast((r) => r.fits(name))?.material;
    return {
      renderVisible: inherited(path, 'renderVisible') ?? renderVisible,
      // Helpers stay off the desk until they are asked for.
      viewportVisible: inherited(path, 'viewportVisible') ?? renderVisible,
      isContext: inherited(path, 'isContext') ?? isContext,
      materials: materials.map((own, k) => {
        const face = faces?.find((f) => f.group === first + k + 1)?.material;
        const final = swapped(face ?? assigned ?? own);
        return final === own ? null : final;
      }),
    };
  });
}

/** A material by name: custom, of the library, or of the model. */
export function findMaterial(name: string, own: readonly Material[], model: readonly Material[]): Material | undefined {
  return own.find((f) => f.name === name) ?? libraryMaterial(name) ?? model.find((f) => f.name === name);
}

/** The first assigned material that is not known; null where all are. `model` are the names of the model's own. */
export function firstMissingMaterial({ parts, rules, swaps, materials }: CompiledAssignments, model: readonly string[]): string | null {
  const known = new Set([...model, ...materials.map((f) => f.name)]);
  const asked = [
    ...parts.flatMap((p) => [...(p.material === undefined ? [] : [p.material]), ...(p.faces ?? []).map((f) => f.material)]),
    ...rules.map((r) => r.material),
    ...swaps.map((s) => s.to),
  ];
  return asked.find((name) => !known.has(name) && !libraryMaterial(name)) ?? null;
}

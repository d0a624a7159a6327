/** What parts wear and which of them come out, apart from what their file says: kept with the set, laid over any revision by paths and names. */
import { z } from 'zod';
import { DEFAULT_FINISH, type Finish, MAPPINGS, type TextureSlot, type TextureUse } from '../model/finish.js';
import { hashOf } from '../plan/hash.js';
import { parseHex, type Rgb } from '../units/colour.js';
import { libraryFinish } from './library.js';

const nameSchema = z.string().min(1).max(120);
const hexSchema = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'Write a colour as #rrggbb.');
const share = z.number().min(0).max(1);

/** What a picture of one's own steers. */
export const PICTURE_SLOTS = ['base', 'metalRough', 'normal', 'emission'] as const satisfies readonly TextureSlot[];

/** A picture on a finish of one's own. */
export const finishPictureSchema = z.strictObject({
  slot: z.enum(PICTURE_SLOTS),
  /** Beside the set file; the application keeps it by content hash. */
  file: z.string().min(1).max(200),
  /** By a box: metres that one picture is wide. By the model's coordinates: units of them. */
  scale: z.number().min(1e-6).max(1e6).default(1),
  /** Degrees counterclockwise. */
  rotation: z.number().min(-360).max(360).default(0),
  /** Shares of the picture, to the right and down. */
  offset: z.tuple([z.number().min(-1e4).max(1e4), z.number().min(-1e4).max(1e4)]).default([0, 0]),
  mapping: z.enum(MAPPINGS).default('box'),
});

export type FinishPicture = z.infer<typeof finishPictureSchema>;

/** A finish of one's own. */
export const ownFinishSchema = z.strictObject({
  name: nameSchema,
  colour: hexSchema,
  metalness: share.default(0),
  roughness: share.default(0.5),
  /** Share of light that enters, as glass. */
  transmission: share.default(0),
  /** A pane without thickness. */
  thin: z.boolean().default(false),
  ior: z.number().min(1).max(4).default(1.5),
  coat: share.default(0),
  coatRoughness: share.default(0.1),
  /** Share of diffuse light that passes, as through paper. */
  translucency: share.default(0),
  /** Strength of the light it gives in its own colour. */
  glow: z.number().min(0).max(10_000).default(0),
  /** Multiply what the numbers say; of each slot one. */
  pictures: z
    .array(finishPictureSchema)
    .max(PICTURE_SLOTS.length)
    .refine((p) => new Set(p.map((x) => x.slot)).size === p.length, 'A picture of that kind stands here twice.')
    .optional(),
});

export type OwnFinish = z.infer<typeof ownFinishSchema>;

const swapSchema = z.strictObject({ from: nameSchema, to: nameSchema });

export const dressingSchema = z.strictObject({
  /** What is set of a part by its path goes for all below it that is not set itself. */
  parts: z
    .array(
      z.strictObject({
        path: z.string().min(1).max(1000),
        /** Comes out in pictures. */
        picture: z.boolean().optional(),
        /** Shown while working; pictures do not heed it. */
        desk: z.boolean().optional(),
        finish: nameSchema.optional(),
      }),
    )
    .max(50_000)
    .default([]),
  /** Finishes by part name; `*` stands for anything, capitals count for nothing. The last that fits counts. */
  rules: z
    .array(z.strictObject({ match: nameSchema, finish: nameSchema }))
    .max(500)
    .default([]),
  /** Finishes of one's own; they go before those of the library and of the model. */
  finishes: z.array(ownFinishSchema).max(500).default([]),
  /** Everything that wears one finish wears another. */
  swaps: z.array(swapSchema).max(500).default([]),
  /** Named lists of swaps, of which one may be worn on top. */
  variants: z
    .array(z.strictObject({ id: z.string().min(1).max(64), name: nameSchema, swaps: z.array(swapSchema).max(500) }))
    .max(100)
    .default([]),
  variant: z.string().max(64).optional(),
});

export type DressingChoice = z.infer<typeof dressingSchema>;
type PartChoice = DressingChoice['parts'][number];

/** As a frame carries it: the variant's swaps joined on, known by the hash of what changes pixels. */
export interface Dressing {
  id: string;
  parts: PartChoice[];
  rules: DressingChoice['rules'];
  swaps: DressingChoice['swaps'];
  finishes: PicturedFinish[];
}

/** A finish with the pictures that are still to be loaded. */
export type PicturedFinish = Finish & { pictures?: FinishPicture[] };

export function finishOfOwn(own: OwnFinish): PicturedFinish {
  const { colour, glow, ...values } = own;
  const base = parseHex(colour);
  return { ...DEFAULT_FINISH, ...values, base, emission: base.map((c) => c * glow) as Rgb };
}

/**
 * Where a picture lies: u' = R (u, v) / scale + offset, turned about the corner. By a box it keeps its shape;
 * by the model's coordinates it fills their unit, as those have it.
 */
export function pictureMatrix({ scale, rotation, offset, mapping }: FinishPicture, size: { width: number; height: number }): TextureUse['matrix'] {
  const [c, s] = [Math.cos((rotation * Math.PI) / 180), Math.sin((rotation * Math.PI) / 180)];
  const tall = mapping === 'box' ? size.width / size.height : 1;
  // v goes down, so that counterclockwise in the picture is this way round.
  return [c / scale, -s / scale, offset[0], (s * tall) / scale, (c * tall) / scale, offset[1]].map(Math.fround) as TextureUse['matrix'];
}

/** Files of the pictures that a dressing's finishes need. */
export function picturesOf(finishes: readonly PicturedFinish[]): string[] {
  return [...new Set(finishes.flatMap((f) => (f.pictures ?? []).map((p) => p.file)))];
}

/** The choice as a view has it: in another variant, and without some parts. */
export function dressingFor(
  choice: DressingChoice | undefined,
  shows: { variant?: string; without?: string[] } | undefined,
): DressingChoice | undefined {
  if (!shows?.variant && !shows?.without) return choice;
  const base = choice ?? dressingSchema.parse({});
  const out = new Set(shows.without);
  const kept = base.parts.map((p) => (out.has(p.path) ? { ...p, picture: false } : p));
  const known = new Set(base.parts.map((p) => p.path));
  return {
    ...base,
    ...(shows.variant && { variant: shows.variant }),
    parts: [...kept, ...[...out].filter((path) => !known.has(path)).map((path) => ({ path, picture: false }))],
  };
}

/** The dressing that a set's pictures wear, or undefined where nothing of them changes. Throws where a finish is not known. */
export function dressingOf(choice: DressingChoice | undefined): Dressing | undefined {
  if (!choice) return undefined;
  const { rules, finishes } = choice;
  const variant = choice.variant === undefined ? undefined : choice.variants.find((v) => v.id === choice.variant);
  if (choice.variant !== undefined && !variant) throw new Error(`There is no variant "${choice.variant}" in this set; choose another.`);
  const parts = choice.parts.filter((p) => p.picture !== undefined || p.finish !== undefined).map(({ desk: _, ...p }) => p);
  const swaps = [...choice.swaps, ...(variant?.swaps ?? [])];
  if (parts.length + rules.length + swaps.length === 0) return undefined;
  const content = { parts, rules, swaps, finishes: finishes.map(finishOfOwn) };
  return { id: hashOf(content), ...content };
}

/** Whether a name fits a pattern in which `*` stands for anything. */
export function fits(pattern: string, name: string): boolean {
  const words = pattern.split('*').map((w) => w.replace(/[.+?^${}()|[\]\\]/g, '\\$&'));
  return new RegExp(`^${words.join('.*')}$`, 'is').test(name);
}

export interface Dressed {
  inPicture: boolean;
  onDesk: boolean;
  /** Name of the finish that takes the place of each primitive's own; null where that stays. */
  finishes: (string | null)[];
}

interface DressedPart {
  path: string;
  inPicture: boolean;
  /** Names of its primitives' own finishes. */
  finishes: string[];
}

/** What each part comes to by a dressing; parts are told apart by path, and paths say what hangs below what. */
export function dress(parts: readonly DressedPart[], { parts: choices, rules, swaps }: Pick<DressingChoice, 'parts' | 'rules' | 'swaps'>): Dressed[] {
  const byPath = new Map(choices.map((c) => [c.path, c]));
  const inherited = <K extends 'picture' | 'desk' | 'finish'>(path: string, key: K): PartChoice[K] => {
    for (let at = path; ;) {
      const value = byPath.get(at)?.[key];
      if (value !== undefined) return value;
      const cut = at.lastIndexOf('/');
      if (cut < 0) return undefined;
      at = at.slice(0, cut);
    }
  };
  const swapped = (name: string): string => swaps.reduce((n, s) => (s.from === n ? s.to : n), name);
  return parts.map(({ path, inPicture, finishes }) => {
    const name = path.slice(path.lastIndexOf('/') + 1);
    const worn = inherited(path, 'finish') ?? rules.findLast((r) => fits(r.match, name))?.finish;
    return {
      inPicture: inherited(path, 'picture') ?? inPicture,
      // Helpers stay off the desk until they are asked for.
      onDesk: inherited(path, 'desk') ?? inPicture,
      finishes: finishes.map((own) => {
        const final = swapped(worn ?? own);
        return final === own ? null : final;
      }),
    };
  });
}

/** A finish by name: of one's own, of the library, or one that the model brought. */
export function findFinish(name: string, own: readonly Finish[], model: readonly Finish[]): Finish | undefined {
  return own.find((f) => f.name === name) ?? libraryFinish(name) ?? model.find((f) => f.name === name);
}

/** The first finish that a dressing asks for and nobody knows; null where all are known. `model` are the names that the model brought. */
export function unknownFinish({ parts, rules, swaps, finishes }: Dressing, model: readonly string[]): string | null {
  const known = new Set([...model, ...finishes.map((f) => f.name)]);
  const asked = [...parts.flatMap((p) => p.finish ?? []), ...rules.map((r) => r.finish), ...swaps.map((s) => s.to)];
  return asked.find((name) => !known.has(name) && !libraryFinish(name)) ?? null;
}

/** How the cut faces of a section look: caps of one colour, hatched where that is wanted. */
import * as z from 'zod';
import { hexSchema, parseHex, type Rgb } from '../units/colour.js';

/** Lines over the caps of a section. */
export const hatchSchema = z.strictObject({
  /** Metres from line to line, and of a line's width. */
  spacing: z.number().min(1e-4).max(100),
  width: z.number().min(1e-5).max(100),
  /** Degrees of the lines, counterclockwise on the cap as it is seen, from level. */
  angle: z.number().min(-180).max(180).default(45),
  colour: hexSchema.default('#15202a'),
});

/** How caps look, as fields of whatever has a section. */
export const capFields = {
  /** Colour of the caps as #rrggbb; the cut part's own material where absent. */
  cap: hexSchema.optional(),
  /** Lines over the caps. */
  hatch: hatchSchema.refine((h) => h.width < h.spacing, 'Hatch lines must be narrower than their spacing.').optional(),
};

/** What {@link hatchSchema} reads. */
export type HatchChoice = z.infer<typeof hatchSchema>;

/** How caps look, as the set file writes it. */
export interface CapChoice {
  cap?: string;
  hatch?: HatchChoice;
}

/** Caps as a frame carries them, in linear light. */
export interface Caps {
  cap?: Rgb;
  hatch?: Omit<HatchChoice, 'colour'> & { colour: Rgb };
}

/** What is said of caps alone, out of what says it among other things. */
export const capsIn = ({ cap, hatch }: CapChoice): CapChoice => ({ ...(cap && { cap }), ...(hatch && { hatch }) });

/** How caps look, as the renderer takes it: colours linear. */
export function capsOf({ cap, hatch }: CapChoice): Caps {
  return { ...(cap && { cap: parseHex(cap) }), ...(hatch && { hatch: { ...hatch, colour: parseHex(hatch.colour) } }) };
}

/** A hatch to begin with: some twenty lines over the subject's short side. */
export function defaultHatch(size: number): HatchChoice {
  const step = 10 ** Math.floor(Math.log10(size / 20));
  const spacing = step * ([5, 2, 1].find((k) => k * step <= size / 20) ?? 1);
  return { spacing: Number(spacing.toPrecision(3)), width: Number((spacing * 0.15).toPrecision(3)), angle: 45, colour: '#15202a' };
}

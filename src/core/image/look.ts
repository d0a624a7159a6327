/** What a grade does to display values after the tone curve: levels, contrast, saturation, and a table of colours. */
import * as z from 'zod';
import { type ColourTable, decodeTable3d, lookUpColour, tableFrom } from './colourTable.js';

/** Most entries a side of a table that a set carries. */
export const MAX_TABLE_SIDE = 33;
const MAX_TABLE_LETTERS = Math.ceil((MAX_TABLE_SIDE ** 3 * 6) / 3) * 4;

/** What is done to display values, as fields of a grade. */
export const lookFields = {
  /** Display values that become black and white, and the power in between: v ↦ ((v − black) / (white − black))^(1 / gamma). */
  levels: z
    .strictObject({
      black: z.number().min(0).max(0.9).default(0),
      white: z.number().min(0.1).max(1).default(1),
      gamma: z.number().min(0.1).max(10).default(1),
    })
    .refine((l) => l.white - l.black >= 0.05, 'White is at least 0.05 above black.')
    .optional(),
  /** Steepness at middle grey; 1 changes nothing. */
  contrast: z.number().min(0.2).max(5).optional(),
  /** Distance from grey; 1 changes nothing, 0 is grey. */
  saturation: z.number().min(0).max(4).optional(),
  /** A table of colours, as .cube files hold it. */
  table: z
    .strictObject({
      name: z.string().min(1).max(80),
      side: z.int().min(2).max(MAX_TABLE_SIDE),
      /** side³ · 3 numbers of 16 bits, little endian, red fastest, in base64. */
      values: z
        .string()
        .max(MAX_TABLE_LETTERS)
        .regex(/^[A-Za-z0-9+/]+={0,2}$/, 'These are no values of a colour table; import its .cube file again.'),
      /** How much of it is mixed in, 0..1. */
      share: z.number().min(0).max(1).default(1),
    })
    .refine((t) => Math.ceil((t.side ** 3 * 6) / 3) * 4 === t.values.length, 'The colour table is cut short; import its .cube file again.')
    .optional(),
};

/** What is done to display values, after the tone curve. */
export type Look = z.infer<z.ZodObject<typeof lookFields>>;

/**
 * The gain function of Perlin and Hoffert, "Hypertexture", SIGGRAPH 1989, with its powers written out: black, middle and
 * white stay, and the slope at the middle is `contrast`.
 */
export function contrastCurve(v: number, contrast: number): number {
  return v < 0.5 ? 0.5 * (2 * v) ** contrast : 1 - 0.5 * (2 - 2 * v) ** contrast;
}

/** Display value of a display value, 0..1. */
export function levelsCurve(v: number, { black, white, gamma }: NonNullable<Look['levels']>): number {
  return Math.min(1, Math.max(0, (v - black) / (white - black))) ** (1 / gamma);
}

const STEPS = 4096;

/** Levels and contrast by table; null where they change nothing. */
function curveTable({ levels, contrast = 1 }: Look): Float32Array | null {
  if (!levels && contrast === 1) return null;
  return Float32Array.from({ length: STEPS + 2 }, (_, i) => {
    const v = Math.min(1, i / STEPS);
    return contrastCurve(levels ? levelsCurve(v, levels) : v, contrast);
  });
}

/** Whether the look changes anything. */
export const hasLook = ({ levels, contrast = 1, saturation = 1, table }: Look): boolean =>
  levels !== undefined || contrast !== 1 || saturation !== 1 || table !== undefined;

/**
 * Applies the look to display values 0..1, three a pixel, in place. Saturation is that of ASC CDL 1.2: distance from the
 * luma by the weights of Rec. 709 (0.2126, 0.7152, 0.0722).
 */
export function applyLook(display: Float32Array, look: Look): void {
  if (!hasLook(look)) return;
  const curve = curveTable(look);
  const { saturation = 1 } = look;
  const table = look.table ? decodeTable3d(look.table.side, look.table.values) : null;
  const share = look.table?.share ?? 0;
  const rgb = new Float32Array(3);
  const along = (v: number): number => {
    const x = v * STEPS;
    const i = Math.floor(x);
    return curve![i]! + (curve![i + 1]! - curve![i]!) * (x - i);
  };
  const clip = (v: number): number => (v > 0 ? (v < 1 ? v : 1) : 0);
  for (let i = 0; i < display.length; i += 3) {
    let [r, g, b] = [display[i]!, display[i + 1]!, display[i + 2]!];
    if (curve) {
      r = along(r);
      g = along(g);
      b = along(b);
    }
    if (saturation !== 1) {
      const luma = 0.2126 * r + 0.7152 * g + 0.0722 * b;
      r = clip(luma + saturation * (r - luma));
      g = clip(luma + saturation * (g - luma));
      b = clip(luma + saturation * (b - luma));
    }
    if (table) {
      lookUpColour(table, r, g, b, rgb);
      r += share * (rgb[0]! - r);
      g += share * (rgb[1]! - g);
      b += share * (rgb[2]! - b);
    }
    display[i] = r;
    display[i + 1] = g;
    display[i + 2] = b;
  }
}

/** The whole look as one table of that many entries a side. */
export function tableOfLook(side: number, look: Look): ColourTable {
  const table = tableFrom(side, () => {});
  // All colours at once: what the look needs is made once.
  applyLook(table.values, look);
  return table;
}

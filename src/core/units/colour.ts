/** Colours at the border are sRGB in hex; inside they are linear Rec. 709. IEC 61966-2-1. */

import * as z from 'zod';

/** Red, green and blue; linear Rec. 709 where nothing else is said. */
export type Rgb = [number, number, number];

/** A colour as people write it. */
export const hexSchema = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'Write a colour as #rrggbb.');

/** sRGB component 0..1 to linear. */
export function toLinear(c: number): number {
  return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
}

/** Linear component to sRGB; values outside 0..1 are clipped. */
export function toDisplay(c: number): number {
  if (!(c > 0)) return 0;
  if (c >= 1) return 1;
  return c <= 0.0031308 ? c * 12.92 : 1.055 * c ** (1 / 2.4) - 0.055;
}

/** `#rrggbb` to linear Rec. 709. Throws where the text is no such colour. */
export function parseHex(hex: string): Rgb {
  const m = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(hex);
  if (!m) throw new Error(`"${hex}" is not a colour; write it as #rrggbb, for example #7b7b7b.`);
  return [m[1]!, m[2]!, m[3]!].map((h) => toLinear(parseInt(h, 16) / 255)) as Rgb;
}

/** Linear Rec. 709 to `#rrggbb`. */
export function formatHex(rgb: Rgb): string {
  return (
    '#' +
    rgb
      .map((c) =>
        Math.round(toDisplay(c) * 255)
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')
  );
}

/** The 256 values of an sRGB byte in linear light, in single precision. */
export function decodeTable(): Float32Array {
  return Float32Array.from({ length: 256 }, (_, i) => toLinear(i / 255));
}

/** Luminance of linear Rec. 709 (ITU-R BT.709). */
export function luminance(r: number, g: number, b: number): number {
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Linear Rec. 709 of luminance 1 from CIE 1931 x and y (IEC 61966-2-1); what lies outside the gamut is clipped. */
export function rgbOfChromaticity(x: number, y: number): Rgb {
  const [X, Y, Z] = [x / y, 1, (1 - x - y) / y];
  const rgb: Rgb = [
    Math.max(0, 3.2406 * X - 1.5372 * Y - 0.4986 * Z),
    Math.max(0, -0.9689 * X + 1.8758 * Y + 0.0415 * Z),
    Math.max(0, 0.0557 * X - 0.204 * Y + 1.057 * Z),
  ];
  const l = luminance(...rgb);
  return rgb.map((c) => c / l) as Rgb;
}

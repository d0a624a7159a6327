/**
 * Colour difference CIEDE2000 (ISO/CIE 11664-6), as Sharma, Wu and Dalal write it: "The CIEDE2000 color-difference formula:
 * implementation notes, supplementary test data, and mathematical observations", Color Research & Application 30, 2005.
 */
const DEGREES = Math.PI / 180;
const POW_25_7 = 25 ** 7;

/** `**` and `Math.hypot` take several times as long, and this runs for every pixel. */
const seventh = (c: number): number => c * c * c * (c * c * c) * c;
const length = (a: number, b: number): number => Math.sqrt(a * a + b * b);

/** Angle of a colour of no chroma is 0 by definition. */
const hueOf = (a: number, b: number): number => (a === 0 && b === 0 ? 0 : (Math.atan2(b, a) / DEGREES + 360) % 360);

/** About 1 is just noticeable; parametric factors are 1. L* 0..100, a* and b* as CIE 15 has them. */
export function ciede2000(L1: number, a1: number, b1: number, L2: number, a2: number, b2: number): number {
  const meanC7 = seventh((length(a1, b1) + length(a2, b2)) / 2);
  const G = 0.5 * (1 - Math.sqrt(meanC7 / (meanC7 + POW_25_7)));
  const [x1, x2] = [(1 + G) * a1, (1 + G) * a2];
  const [C1, C2] = [length(x1, b1), length(x2, b2)];
  const [h1, h2] = [hueOf(x1, b1), hueOf(x2, b2)];
  const grey = C1 * C2 === 0;
  let dh = grey ? 0 : h2 - h1;
  if (dh > 180) dh -= 360;
  else if (dh < -180) dh += 360;
  let meanH = h1 + h2;
  if (!grey) meanH = (Math.abs(h1 - h2) <= 180 ? meanH : meanH < 360 ? meanH + 360 : meanH - 360) / 2;
  const [meanL, meanC] = [(L1 + L2) / 2, (C1 + C2) / 2];
  const T =
    1 -
    0.17 * Math.cos((meanH - 30) * DEGREES) +
    0.24 * Math.cos(2 * meanH * DEGREES) +
    0.32 * Math.cos((3 * meanH + 6) * DEGREES) -
    0.2 * Math.cos((4 * meanH - 63) * DEGREES);
  const C7 = seventh(meanC);
  const SL = 1 + (0.015 * (meanL - 50) ** 2) / Math.sqrt(20 + (meanL - 50) ** 2);
  const SC = 1 + 0.045 * meanC;
  const SH = 1 + 0.015 * meanC * T;
  const turn = 30 * Math.exp(-(((meanH - 275) / 25) ** 2));
  const RT = -2 * Math.sqrt(C7 / (C7 + POW_25_7)) * Math.sin(2 * turn * DEGREES);
  const [l, c, h] = [(L2 - L1) / SL, (C2 - C1) / SC, (2 * Math.sqrt(C1 * C2) * Math.sin((dh / 2) * DEGREES)) / SH];
  return Math.sqrt(l * l + c * c + h * h + RT * c * h);
}

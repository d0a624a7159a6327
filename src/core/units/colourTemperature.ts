/** Colour temperature: the chromaticity of a black body. */

/** The temperature that changes nothing, kelvin. */
export const NEUTRAL_KELVIN = 6500;

/** Lowest colour temperature that the fit holds for. */
export const MIN_KELVIN = 1700;

/** Highest colour temperature that the fit holds for. */
export const MAX_KELVIN = 25_000;

/**
 * CIE 1931 chromaticity of a black body, 1667 to 25 000 K: Kang, Moon, Hong, Lee, Cho, Kim, "Design of
 * advanced color temperature control system for HDTV applications", J. Korean Physical Society 41, 2002.
 */
export function blackBody(kelvin: number): [number, number] {
  const t = 1000 / kelvin;
  const x =
    kelvin <= 4000
      ? -0.2661239 * t ** 3 - 0.234358 * t ** 2 + 0.8776956 * t + 0.17991
      : -3.0258469 * t ** 3 + 2.1070379 * t ** 2 + 0.2226347 * t + 0.24039;
  const y =
    kelvin <= 2222
      ? -1.1063814 * x ** 3 - 1.3481102 * x ** 2 + 2.18555832 * x - 0.20219683
      : kelvin <= 4000
        ? -0.9549476 * x ** 3 - 1.37418593 * x ** 2 + 2.09137015 * x - 0.16748867
        : 3.081758 * x ** 3 - 5.8733867 * x ** 2 + 3.75112997 * x - 0.37001483;
  return [x, y];
}

/** Half-precision floats (IEEE 754-2008 binary16) as values: what a half can hold, kept in single precision. */

/** Largest finite half. */
export const MAX_HALF = 65504;
/** Smallest normal half, 2^-14; below it halves are multiples of 2^-24. */
const MIN_NORMAL = 2 ** -14;
const SUBNORMAL_STEPS = 2 ** 24;
/** Bits of a single's fraction that a half lacks. */
const LOST_BITS = 13;

/**
 * Each value at the nearest half, ties to even; what is beyond the largest comes to it, since light that is very bright is
 * still light. What is not a number stays so.
 * @returns a new array.
 */
export function roundToHalf(values: Float32Array): Float32Array {
  const out = Float32Array.from(values);
  const bits = new Uint32Array(out.buffer);
  for (let i = 0; i < out.length; i++) {
    const value = out[i]!;
    const size = Math.abs(value);
    if (size >= MIN_NORMAL) {
      // A carry out of the fraction goes into the exponent, which is what rounding up to the next power of two is.
      bits[i] = ((bits[i]! + (1 << (LOST_BITS - 1)) - 1 + ((bits[i]! >>> LOST_BITS) & 1)) >>> LOST_BITS) << LOST_BITS;
      if (Math.abs(out[i]!) > MAX_HALF) out[i] = value > 0 ? MAX_HALF : -MAX_HALF;
    } else if (size > 0) out[i] = roundToEven(value * SUBNORMAL_STEPS) / SUBNORMAL_STEPS;
  }
  return out;
}

function roundToEven(x: number): number {
  const down = Math.floor(x);
  const rest = x - down;
  return rest > 0.5 || (rest === 0.5 && down % 2 !== 0) ? down + 1 : down;
}

/** The value of every half, by its bits. */
function halfTable(): Float32Array {
  return Float32Array.from({ length: 65536 }, (_, bits) => {
    const sign = bits & 0x8000 ? -1 : 1;
    const exponent = (bits >> 10) & 31;
    const fraction = bits & 1023;
    if (exponent === 0) return (sign * fraction) / SUBNORMAL_STEPS;
    if (exponent === 31) return fraction ? NaN : sign * Infinity;
    return sign * 2 ** (exponent - 15) * (1 + fraction / 1024);
  });
}

/** Decodes halves by their bits; keep one where many are decoded. */
export function halfDecoder(): (bits: Uint16Array) => Float32Array {
  const table = halfTable();
  return (bits) => {
    const out = new Float32Array(bits.length);
    for (let i = 0; i < bits.length; i++) out[i] = table[bits[i]!]!;
    return out;
  };
}

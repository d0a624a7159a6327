/** Matrices in double precision: gl-matrix makes single ones unless it is given arrays. */
import { mat4 } from 'gl-matrix';

/** A 4 × 4 identity, column-major. */
export function identity(): mat4 {
  return mat4.identity(new Array<number>(16).fill(0) as unknown as mat4);
}

/** Plain numbers of a matrix as the plan carries them. */
export function numbersOf(m: mat4): number[] {
  return Array.from(m);
}

/** A matrix out of 16 numbers. Throws where there are not 16. */
export function matrixOf(numbers: ArrayLike<number>): mat4 {
  if (numbers.length !== 16) throw new Error(`A matrix has 16 numbers, not ${numbers.length}.`);
  return Array.from(numbers) as unknown as mat4;
}

/** A size that is nearly one of the trade's: mostly a slip of the keyboard, and refused by whoever expects the other. */
import type { Size } from '../../camera/view.js';
import { isMoving } from '../../shots/kinds.js';
import { NAMED_SIZES, type NamedSize } from '../../plan/sizes.js';
import type { Finding, Found } from '../finding.js';
import { editFix } from '../fixes.js';

/** Share of a side by which two sizes are nearly the same. */
const NEARLY = 0.02;

const near = (a: number, b: number): boolean => Math.abs(a - b) <= NEARLY * b;
const isOdd = ({ width, height }: Size): boolean => width % 2 === 1 || height % 2 === 1;

/** The named size that a size misses by little; undefined where it is one, or like none. */
export function nearlyNamed(size: Size): NamedSize | undefined {
  if (NAMED_SIZES.some((s) => s.width === size.width && s.height === size.height)) return undefined;
  return NAMED_SIZES.find((s) => near(size.width, s.width) && near(size.height, s.height));
}

/** A size misses a standard one by a few pixels. */
export const nearStandardSize: Finding = {
  id: 'near-standard-size',
  title: 'Nearly a standard size',
  area: 'format',
  needs: 'plan',
  inspect: ({ set, outputs }) => {
    const asked = new Set(set.delivery?.sizes?.map((s) => `${s.width} × ${s.height}`));
    const { size } = set.sheet;
    const named = nearlyNamed(size);
    // Odd sizes of movies have a finding of their own, whose fix is another.
    if (!named || asked.has(`${size.width} × ${size.height}`) || (isOdd(size) && outputs.some((o) => isMoving(o.shot.kind)))) return [];
    const { width, height } = named;
    return [
      {
        severity: 'doubt',
        message: `${size.width} × ${size.height} is nearly ${named.name}, which is ${width} × ${height}.`,
        fix: editFix(`Make it ${width} × ${height}`, set, { ...set, sheet: { ...set.sheet, size: { width, height } } }),
        about: { size },
      } satisfies Found,
    ];
  },
};

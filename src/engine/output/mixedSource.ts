/** Passes with beauty mixed as a grade has it. */
import type { Frame } from '../../core/frame/frame.js';
import { mixBeauty } from '../../core/image/mix.js';
import type { PassId } from '../../core/image/passes.js';
import type { PassSource } from './film.js';

/** @param frame grade, the passes that there are, and whether light is premultiplied. */
export function mixedSource(source: PassSource, { grade, passes, transparent }: Pick<Frame, 'grade' | 'passes' | 'transparent'>): PassSource {
  const { mix, exposure } = grade;
  if (!mix) return source;
  let beauty: Float32Array | undefined;
  const planeOf = (id: PassId): Float32Array | null => (passes.includes(id) ? source.plane(id) : null);
  const mixBeautyOnce = (): Float32Array =>
    (beauty ??= mixBeauty(source.plane('beauty'), planeOf, mix, exposure, transparent ? source.plane('alpha') : null));
  return { ...source, plane: (id) => (id === 'beauty' ? mixBeautyOnce() : source.plane(id)) };
}

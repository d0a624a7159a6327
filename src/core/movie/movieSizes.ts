/** Sizes that movies cannot have, found before anything renders. */
import type { Size } from '../camera/view.js';
import { takesEvenSizes } from './clip.js';
import { effectiveSettings } from '../plan/formatSheet.js';
import { shotOutputs } from '../plan/outputs.js';
import type { SetFile } from '../plan/set.js';
import { kindOf, shotName } from '../shots/kinds.js';

/** A shot whose size most movie profiles refuse. */
export interface OddMovieSize {
  /** Id and name of the shot. */
  shot: string;
  name: string;
  size: Size;
}

/** Outputs of moving shots whose width or height is odd, so that no H.264 movie can be made of them. */
export function oddMovieSizes(set: Pick<SetFile, 'sheet' | 'shots'>): OddMovieSize[] {
  return set.shots
    .filter((shot) => kindOf(shot).moving)
    .flatMap((shot) =>
      shotOutputs(effectiveSettings(set.sheet, shot), shot)
        // Every variant has the same sizes.
        .filter(({ size, variant }) => !takesEvenSizes(size) && variant === shot.variants?.[0])
        .map(({ size }) => ({ shot: shot.id, name: shotName(shot), size })),
    );
}

const even = <S extends Size>(size: S): S => ({ ...size, width: size.width + (size.width % 2), height: size.height + (size.height % 2) });

/** The set with every odd side of a moving shot's outputs one pixel longer: on the sheet where that is where it stands, else on the shot. */
export function withEvenMovieSizes(set: SetFile): SetFile {
  const odd = new Set(oddMovieSizes(set).map((o) => o.shot));
  if (odd.size === 0) return set;
  const { sheet } = set;
  return {
    ...set,
    sheet: { ...sheet, size: even(sheet.size), ...(sheet.sizes && { sizes: sheet.sizes.map(even) }) },
    shots: set.shots.map((shot) =>
      odd.has(shot.id) && shot.overrides?.size ? { ...shot, overrides: { ...shot.overrides, size: even(shot.overrides.size) } } : shot,
    ),
  };
}

/** The runs of frames that a shot is made in: each of its sizes in each of its variants. */
import type { Size } from '../camera/view.js';
import { kindOf, type Shot } from '../shots/kinds.js';
import type { ExtraSize, FormatSheet } from './formatSheet.js';

/** A shot in one variant and one size: what makes one run of frames. */
export interface ShotOutput {
  /** Id of the run, as frames have it: the shot's own for the first, else with "+" and the variant, and "@" and the size behind. */
  run: string;
  /** Pixels. */
  size: Size;
  /** The extra size, where it is one. */
  further?: ExtraSize;
  /** Id of the variant, where the shot names some. */
  variant?: string;
}

/** Outputs of a shot under its effective format sheet: the sheet's own size first. A still has its variants within one run. */
export function shotOutputs(sheet: Pick<FormatSheet, 'size' | 'sizes'>, shot: Shot): ShotOutput[] {
  const extra = (sheet.sizes ?? []).filter((s) => !shot.sizes || shot.sizes.includes(s.id));
  const sizes: Pick<ShotOutput, 'size' | 'further'>[] = [
    { size: sheet.size },
    ...extra.map((f) => ({ size: { width: f.width, height: f.height }, further: f })),
  ];
  const variants = kindOf(shot).moving ? (shot.variants ?? [undefined]) : [undefined];
  return variants.flatMap((variant, i) =>
    sizes.map(({ size, further }) => ({
      run: `${shot.id}${variant !== undefined && i > 0 ? `+${variant}` : ''}${further ? `@${further.id}` : ''}`,
      size,
      ...(further && { further }),
      ...(variant !== undefined && { variant }),
    })),
  );
}

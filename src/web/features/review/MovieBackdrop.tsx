/** The colour behind clear frames in a movie, which has no alpha. */
import type { ReactNode } from 'react';
import { hexSchema } from '../../../core/units/colour.js';
import { ColourField } from '../../ui/ColourField.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** What stands behind a movie of frames with a clear backdrop. */
export function MovieBackdrop({ background, onBackground }: { background: string; onBackground: (background: string) => void }): ReactNode {
  const choose = (value: string): string | null => {
    if (!hexSchema.safeParse(value).success) return MESSAGES.writeAColour;
    onBackground(value);
    return null;
  };
  return (
    <span className="w-40">
      <ColourField label={LABELS.movieBackdrop} help={HELP.movieBackdrop} value={background} onValue={choose} />
    </span>
  );
}

/** Which frames of a batch are rendered before the rest, and whether it waits for a word then. */
import type { ReactNode } from 'react';
import { MAX_FIRST_FRAMES } from '../../../core/plan/firstFrames.js';
import { setPreferences, usePreferences } from '../../app/preferences.js';
import { Checkbox, NumberField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** How many frames a shot are rendered first, and whether a batch waits after them. */
export function FirstFramesFields(): ReactNode {
  const { firstFrames, holdAfterFirst } = usePreferences();
  return (
    <section aria-label={LABELS.firstFrames} className="flex items-end gap-6 border-t border-rule px-[18px] py-3">
      <div className="w-36">
        <NumberField
          label={LABELS.firstFramesPerShot}
          help={HELP.firstFramesPerShot}
          value={firstFrames}
          decimals={0}
          onValue={(count) => {
            if (!Number.isInteger(count) || count < 0 || count > MAX_FIRST_FRAMES) return MESSAGES.firstFramesRange;
            setPreferences({ firstFrames: count });
            return null;
          }}
        />
      </div>
      <Checkbox
        label={LABELS.holdAfterFirst}
        help={HELP.holdAfterFirst}
        checked={holdAfterFirst}
        onChecked={(on) => setPreferences({ holdAfterFirst: on })}
      />
    </section>
  );
}

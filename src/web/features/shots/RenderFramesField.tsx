/** Which frames of each shot the next batch renders. */
import type { ReactNode } from 'react';
import type { Frame } from '../../../core/frame/frame.js';
import { selectPlannedFrames } from '../../../core/plan/selection.js';
import { TextField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Every frame. */
export const ALL_FRAMES = 'all';

/** Frames that a selection chooses; none where the plan has changed under it. */
function countOf(frames: Frame[], select: string): number {
  try {
    return selectPlannedFrames(frames, select).length;
  } catch {
    return 0;
  }
}

export function RenderFramesField({ frames, value, onValue }: { frames: Frame[]; value: string; onValue: (select: string) => void }): ReactNode {
  return (
    <TextField
      label={value === ALL_FRAMES ? LABELS.renderFrames : MESSAGES.renderFramesOf(countOf(frames, value), frames.length)}
      help={HELP.all}
      mono
      value={value}
      onValue={(text) => {
        const next = text.trim() || ALL_FRAMES;
        try {
          selectPlannedFrames(frames, next);
        } catch (e) {
          return (e as Error).message;
        }
        onValue(next);
        return null;
      }}
    />
  );
}

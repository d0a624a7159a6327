/** Names of what lights a pixel. */
import type { LightShare } from '../../core/image/pixelContent.js';
import { lightNames } from '../../core/stage/lightNames.js';
import type { Stage, StageSettings } from '../../core/stage/stage.js';
import type { LitBy } from './PixelInspector.js';
import { LABELS } from './words.js';

/** @param settings of the frame's stage, whose own lights have names. */
export function litBy(shares: readonly LightShare[], stage: Stage, settings: StageSettings): LitBy[] {
  const names = lightNames(stage, settings);
  return shares.map(({ light, share }) => ({
    share,
    ...(typeof light === 'number' ? names[light]! : { name: light === 'model' ? LABELS.modelLight : LABELS.surroundings }),
  }));
}

/** What a shot says of one of its frames. */
import type { Grade } from '../image/grade.js';
import type { Daylight } from '../stage/daylight.js';
import type { Camera, View } from '../camera/view.js';
import type { CapChoice } from './sectionCap.js';
import type { Corner } from './legend.js';
import type { CuttingPlane, Shutter, Turn } from './frame.js';

/** What a shot says of one of its frames; the plan adds number, name, size and sampling. */
export interface Pose {
  view: View;
  time: number;
  camera: Camera;
  turn?: Turn;
  shutter?: Shutter;
  /** Cuts the subject, beside what the set cuts. */
  plane?: CuttingPlane;
  /** How the caps look, where the shot says so; else as the set's own section has it. */
  caps?: CapChoice;
  /** Sun of this frame, where the shot moves it. */
  daylight?: Partial<Pick<Daylight, 'date' | 'time' | 'later' | 'manualSun'>>;
  /** Date, time and altitude of the sun are burnt into this corner. */
  legend?: Corner;
  /** How its light becomes a picture, where the shot says so of its view alone. */
  grade?: Grade;
}

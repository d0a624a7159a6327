/** What the editor of a shot kind is given. */
import type { Bounds } from '../../../core/math/bounds.js';
import type { Frame } from '../../../core/frame/frame.js';
import type { Shot } from '../../../core/shots/kinds.js';
import type { Site } from '../../../core/stage/site.js';
import type { View } from '../../../core/camera/view.js';

/** What the instrument of a kind of shot is given. */
export interface InstrumentProps {
  shot: Shot;
  /** Puts the changed shot into the set; returns what is wrong, or null. */
  put: (shot: Shot) => string | null;
  frames: Frame[];
  index: number;
  onIndex: (index: number) => void;
  /** What of the set and its model instruments draw on. */
  desk: {
    /** Ids of the set and of the revision, and the set's version. */
    set: number;
    revision: number;
    version: string;
    views: View[];
    bounds: Bounds;
    site?: Site;
    /** Address of a drawing to scale; a plan may be cut at a height in metres. */
    drawing: (what: 'plan' | 'elevation', cut?: number) => string;
  };
}

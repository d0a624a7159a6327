/** The instrument of each kind of shot: what shows and steps through its frames. */
import { Names } from './still/Editor.js';
import { SunPathEditor } from './sunStudy/Editor.js';
import type { InstrumentProps } from './editorProps.js';
import type { ComponentType } from 'react';
import type { Shot } from '../../../core/shots/kinds.js';
import { TurntableDial } from './turntable/TurntableDial.js';
import { SectionRevealEditor } from './sectionReveal/Editor.js';
import { WalkthroughEditor } from './walkthrough/Editor.js';

/** The instrument of each kind of shot. */
export const SHOT_EDITORS: Record<Shot['kind'], ComponentType<InstrumentProps>> = {
  still: Names,
  turntable: TurntableDial,
  sunStudy: SunPathEditor,
  walkthrough: WalkthroughEditor,
  sectionReveal: SectionRevealEditor,
};

/** Names of a plan's frames: no two alike, and none that cannot be written. */
import type { Frame } from '../frame/frame.js';
import { nameProblem } from '../plan/fileNames.js';

/** Characters of a name that a message shows. */
const SHOWN = 120;

/** A set cannot be planned for a name of one of its frames. */
export class NameError extends Error {
  override name = 'NameError';

  constructor(
    /** No common system takes it, or two frames have it. */
    readonly reason: 'unwritable' | 'doubled',
    /** Run of frames (Frame.shot) and number of the frame that cannot have it. */
    readonly run: string,
    readonly frame: number,
    message: string,
  ) {
    super(message);
  }
}

/** Notes that a frame has a name. Throws NameError where another has it, or no common system takes it. @param key the name in lower case. */
export function reserveName(taken: Map<string, Frame>, key: string, name: string, frame: Frame): void {
  const other = taken.get(key);
  const problem = nameProblem(name);
  const refuse = (reason: NameError['reason'], message: string): never => {
    throw new NameError(reason, frame.shot, frame.number, message);
  };
  if (problem)
    refuse(
      'unwritable',
      `Shot ${frame.shot}, frame ${frame.number} would be named "${name.length > SHOWN ? `${name.slice(0, SHOWN - 3)}…` : name}": ${problem}. Change the name of the shot, view or set, or the pattern of names.`,
    );
  if (other === frame) refuse('doubled', `Passes of one frame would all be named "${name}". Put {pass} into the pattern.`);
  if (other)
    refuse(
      'doubled',
      `Two frames would be named "${name}": shot ${other.shot} frame ${other.number} and shot ${frame.shot} frame ${frame.number}. Give the shots different names, or put {shot}, {view} or {frame} into the pattern.`,
    );
  taken.set(key, frame);
}

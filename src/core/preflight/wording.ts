/** How findings say where and by how much. */
import { formatRanges } from '../plan/selection.js';
import type { Frame } from '../frame/frame.js';
import type { SetFile } from '../plan/set.js';
import { kindOf } from '../shots/kinds.js';
import type { PlannedOutput } from './finding.js';

/** Views that a message names. */
const MAX_NAMES = 6;

/** "frame 47", "frames 41-58, 60". */
export function inFrames(numbers: readonly number[]): string {
  return `${numbers.length === 1 ? 'frame' : 'frames'} ${formatRanges(numbers)}`;
}

/** "in frames 3-7" of a moving shot, "in the views Front, Side" of a still. */
export function inFramesOf(set: SetFile, output: PlannedOutput, frames: readonly Frame[]): string {
  if (kindOf(output.shot).moving) return `in ${inFrames(frames.map((f) => f.number))}`;
  const names = [...new Set(frames.map((f) => set.views.find((v) => v.id === f.view)?.name ?? f.view))];
  return `in the ${names.length === 1 ? 'view' : 'views'} ${names.slice(0, MAX_NAMES).join(', ')}${names.length > MAX_NAMES ? ` and ${names.length - MAX_NAMES} more` : ''}`;
}

/** The one of a list that has most of something. Throws where the list is empty. */
export function maxBy<T>(list: readonly T[], value: (of: T) => number): T {
  return list.reduce((a, b) => (value(b) > value(a) ? b : a));
}

/** The last name of a part's path, in quotation marks. */
export const quotePart = (path: string): string => `“${path.slice(path.lastIndexOf('/') + 1)}”`;

/** "6.2 %" of a share. */
export function percent(share: number): string {
  const value = share * 100;
  return `${value >= 10 ? value.toFixed(0) : value.toFixed(1)} %`;
}

/** Metres in the unit that suits them. */
export function formatMetres(metres: number): string {
  if (metres >= 10) return `${metres.toFixed(0)} m`;
  if (metres >= 1) return `${metres.toFixed(1)} m`;
  return metres >= 0.01 ? `${(metres * 100).toFixed(0)} cm` : `${(metres * 1000).toFixed(1)} mm`;
}

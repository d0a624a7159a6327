/** Renders that stand on the easel together, up to four, by what the address says. */
import type { FrameReply } from '../../../contract/batches.js';
import { isForBrowsers } from '../../../core/image/fileTypes.js';
import type { PassId } from '../../../core/image/passes.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import type { ResultReply } from '../../../contract/results.js';

/** What one render on the easel is: a run of a batch, and of a still the frame. */
export interface Chosen {
  batch: number;
  run: string;
  /** Frame of a still; absent of a moving shot. */
  frame?: number;
  /** It was chosen beside another view: it stays, whichever the first shows. */
  stays?: boolean;
}

/** Renders that are compared at most. */
export const MAX_ON_EASEL = 4;
/** What the renders are called by their place; letters are those of revisions. */
export const PLACES = ['1', '2', '3', '4'] as const;

/** How renders are compared. */
export const MODES = ['one', 'side', 'wipe', 'blink', 'overlay', 'difference'] as const;
/** One of {@link MODES}. */
export type Mode = (typeof MODES)[number];

/** Whether it is a run of frames that plays. */
export const isMovingResult = (result: Pick<ResultReply, 'nth'>): boolean => result.nth === 0;

/** The result as the address names it. */
export const chosenOf = (result: ResultReply): Chosen => ({
  batch: result.batch,
  run: result.run,
  ...(!isMovingResult(result) && { frame: result.cover }),
});

/** Whether both name the same render. */
export const sameChoice = (a: Chosen, b: Chosen): boolean =>
  a.batch === b.batch && a.run === b.run && (a.frame === undefined || b.frame === undefined || a.frame === b.frame);

/** As an address has it: `12~spin`, `12~stills~345`, `12~stills~345~stays`. */
export const formatChosen = ({ batch, run, frame, stays }: Chosen): string =>
  [batch, run, ...(frame === undefined ? [] : stays ? [frame, 'stays'] : [frame])].join('~');

/** Reads what {@link formatChosen} writes; null where it is no such text. */
export function parseChosen(text: string): Chosen | null {
  const m = /^(\d+)~([^~]+)(?:~(\d+)(~stays)?)?$/.exec(text);
  return m
    ? { batch: Number(m[1]), run: m[2]!, ...(m[3] !== undefined && { frame: Number(m[3]) }), ...(m[4] !== undefined && { stays: true }) }
    : null;
}

/** Address of a render as a person sees it: its file where that is a picture for eyes, else made of OpenEXR. */
export function renderUrl(batch: number, frame: FrameReply, pass: PassId, range: readonly [number, number] | null = null): string {
  if (pass === 'beauty' && frame.files.some(isForBrowsers)) return frameImageUrl(batch, frame);
  const depth = pass === 'depth' && range ? `&near=${range[0]}&far=${range[1]}` : '';
  return `/api/batches/${batch}/frames/${frame.id}/shown.png?pass=${pass}${depth}&v=${frame.samples ?? 0}`;
}

/** The frame of another moving shot that is in step: of that number, else the nearest one before it. */
export function frameInStep(frames: readonly FrameReply[], number: number): FrameReply | undefined {
  let found = frames[0];
  for (const f of frames) if (f.number <= number) found = f;
  return found;
}

/** What is on the easel, with its frames. */
export interface EaselItem {
  key: string;
  /** What it is called there: of PLACES. */
  place: string;
  /** What tells it from the others. */
  label: string;
  /** Id of the frame that is shown, null of a file of this machine; and the address of its picture. */
  frame: number | null;
  url: string;
}

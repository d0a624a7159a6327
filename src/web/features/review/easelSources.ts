/** Runs of batches on the easel, and which of their frames go together. */
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import type { PassId } from '../../../core/image/passes.js';
import { isMoving } from '../../../core/shots/kinds.js';
import { type EaselItem, frameInStep, PLACES, renderUrl } from './easelItems.js';

/** A run of a batch on the easel, with its finished frames. */
export interface EaselSource {
  batch: BatchReply;
  run: string;
  label: string;
  frames: FrameReply[];
  /** Id of the frame that is shown whatever the first shows: of two views of one still, each is what it is. */
  pinned?: number | undefined;
  /** What the batch was started for. */
  revisionId: number;
  variant?: string | undefined;
  /** Passes that its frames have. */
  passes: readonly PassId[];
}

/** The frame of another source that goes with one of the first: in step, or of the same view. */
function counterpart(of: FrameReply, all: readonly FrameReply[], frames: readonly FrameReply[]): FrameReply | undefined {
  if (isMoving(of.kind)) return frameInStep(frames, of.number);
  const place = all.filter((f) => f.view === of.view).indexOf(of);
  const same = frames.filter((f) => f.view === of.view);
  return same[place] ?? same[0] ?? frames[0];
}

/** What is shown at one frame of the first source. @param range metres from white to dark, of depth. */
export function easelItems(
  sources: readonly EaselSource[],
  frame: FrameReply,
  pass: PassId,
  range: readonly [number, number] | null = null,
): EaselItem[] {
  return sources.flatMap((source, i) => {
    const { batch, run, label, frames, pinned } = source;
    const shown = i === 0 ? frame : (frames.find((f) => f.id === pinned) ?? counterpart(frame, sources[0]!.frames, frames));
    return shown ? [{ key: `${batch.id} ${run} ${i}`, place: PLACES[i]!, label, frame: shown.id, url: renderUrl(batch.id, shown, pass, range) }] : [];
  });
}

/** Ids of frames of the first two sources that go together; null where one has no counterpart. */
export function pairsOf([first, second]: readonly EaselSource[]): ({ first: number; second: number } | null)[] {
  if (!first || !second) return [];
  const others = new Map(second.frames.map((f) => [f.number, f.id]));
  return first.frames.map((f) => {
    const other = others.get(f.number);
    return other === undefined ? null : { first: f.id, second: other };
  });
}

/** Which frame of the sources is shown, and how they play. */
import { type Dispatch, type SetStateAction, useEffect, useState } from 'react';
import type { PassId } from '../../../core/image/passes.js';
import { frameStride } from '../../../core/plan/selection.js';
import { isMoving } from '../../../core/shots/kinds.js';
import { everyNth } from '../../../core/units/rate.js';
import type { FrameReply } from '../../../contract/batches.js';
import { PLAIN_PLAY, type PlayOptions } from '../../ui/playIndex.js';
import { usePlay, useStepping } from '../../ui/Timeline.js';
import { renderUrl } from './easelItems.js';
import type { EaselSource } from './easelSources.js';
import { usePlayRange } from './PlayControls.js';
import { usePreloaded } from './usePreloaded.js';
import { useSound } from './useSound.js';

/** What is shown of the easel's sources. */
export interface Playback {
  index: number;
  setIndex: Dispatch<SetStateAction<number>>;
  frame: FrameReply;
  moving: boolean;
  /** Of the pass that is shown, where the sources have it. */
  pass: PassId;
  /** Those that all sources have. */
  passes: PassId[];
  setPass: (pass: PassId) => void;
  /** Frames a second: of every n-th frame alone an n-th of the batch's. */
  rate: string;
  play: ReturnType<typeof usePlay>;
  options: PlayOptions;
  setOptions: Dispatch<SetStateAction<PlayOptions>>;
  sound: ReturnType<typeof useSound>;
  /** Images that are there, of how many; and those that can be drawn at once. */
  ahead: { loaded: number; count: number };
  decoded: ReturnType<typeof usePreloaded>['decoded'];
}

/** @param frameId of the frame of the first source that is asked for. @param onFrame is told of another one that is stepped to. */
export function usePlayback(sources: [EaselSource, ...EaselSource[]], frameId: number | undefined, onFrame: (id: number) => void): Playback {
  const [{ batch, run, frames }] = sources;
  const asked = Math.max(
    0,
    frames.findIndex((f) => f.id === frameId),
  );
  const [at, setIndex] = useState(asked);
  // Another view of the same still is another frame of it.
  useEffect(() => setIndex(asked), [frameId]);
  const index = Math.min(at, frames.length - 1);
  const frame = frames[index]!;
  const moving = isMoving(frame.kind);
  const passes = sources[0].passes.filter((p) => sources.every((s) => s.passes.includes(p)));
  const [askedPass, setPass] = useState<PassId>('beauty');
  const pass = passes.includes(askedPass) ? askedPass : (passes[0] ?? 'beauty');
  const rate = everyNth(batch.rate, moving ? frameStride(frames.map((f) => f.number)) : 1);
  const [options, setOptions] = useState(PLAIN_PLAY);
  const play = usePlay(frames.length, rate, index, setIndex, options);
  const sound = useSound(batch, run, moving && play.playing, index, rate, options);
  const go = (next: number): void => {
    setIndex(next);
    onFrame(frames[next]!.id);
  };
  useStepping(frames.length, index, go, moving ? play.toggle : undefined);
  usePlayRange(moving, index, frames.length, options, setOptions);
  const urls = moving ? sources.flatMap((s) => s.frames.map((f) => renderUrl(s.batch.id, f, pass))) : [];
  const { loaded, decoded } = usePreloaded(urls);
  return {
    ...{ index, setIndex, frame, moving, pass, passes, setPass, rate, play, options, setOptions, sound, decoded },
    ahead: { loaded, count: urls.length },
  };
}

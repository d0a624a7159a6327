/** The sound of the newest movie of a shot, heard while its frames play at their own rate. */
import { useEffect, useRef, useState } from 'react';
import type { BatchReply } from '../../../contract/batches.js';
import { rateValue, parseRate } from '../../../core/units/rate.js';
import type { PlayOptions } from '../../ui/playIndex.js';

/** Whether the movie's sound is heard. */
export interface PlayedSound {
  muted: boolean;
  setMuted: (muted: boolean) => void;
}

/** Seconds by which sound and frames may be apart before the sound is put right. */
const APART = 0.15;

/** @returns null where no movie of the shot has sound. @param index place of the frame that is shown. */
export function useSound(
  { clips }: BatchReply,
  run: string,
  playing: boolean,
  index: number,
  rate: string,
  options: PlayOptions,
): PlayedSound | null {
  const [muted, setMuted] = useState(false);
  const sound = clips.findLast((c) => c.shot === run && c.state === 'ready' && c.sound)?.sound;
  const audio = useRef<HTMLAudioElement | null>(null);
  useEffect(() => {
    if (!sound) return;
    const own = new Audio(`/api/sounds/${sound.file}`);
    own.loop = sound.fit === 'loop';
    own.preload = 'auto';
    audio.current = own;
    return () => {
      own.pause();
      audio.current = null;
    };
  }, [sound?.file, sound?.fit]);
  // At another speed, or backwards, it would be another sound.
  const heard = playing && !muted && options.speed === 1 && !options.thereAndBack;
  useEffect(() => {
    const own = audio.current;
    if (!own || !sound) return;
    if (!heard) {
      own.pause();
      return;
    }
    const wanted = index / rateValue(parseRate(rate));
    const at = sound.fit === 'loop' && Number.isFinite(own.duration) && own.duration > 0 ? wanted % own.duration : wanted;
    const isOver = sound.fit === 'cut' && Number.isFinite(own.duration) && at >= own.duration;
    if (isOver) own.pause();
    else {
      if (Math.abs(own.currentTime - at) > APART) own.currentTime = at;
      // A browser that allows no sound yet plays the frames all the same.
      if (own.paused) own.play().catch(() => undefined);
    }
  }, [heard, index, rate, sound?.file, sound?.fit]);
  return sound ? { muted, setMuted } : null;
}

/** How a moving shot plays: its speed, and whether it goes back the way it came. */
import { ArrowLeftRight, Volume2, VolumeX } from 'lucide-react';
import type { ReactNode } from 'react';
import { type PlayOptions, SPEEDS } from '../../ui/playIndex.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import type { PlayedSound } from './useSound.js';
import { HELP, LABELS } from './words.js';

/** Keys that set the first and the last frame that play, and clear both. */
export function usePlayRange(moving: boolean, index: number, count: number, options: PlayOptions, onOptions: (options: PlayOptions) => void): void {
  const [from, to] = options.range ?? [0, count - 1];
  const put = (range: [number, number]): void => onOptions({ ...options, range: range[0] === 0 && range[1] === count - 1 ? null : range });
  const start = (): void => put([index, Math.max(index, to)]);
  const end = (): void => put([Math.min(from, index), index]);
  const clear = (): void => onOptions({ ...options, range: null });
  useKeys(moving ? { i: start, o: end, u: clear } : {});
  useCommands(
    moving
      ? [
          { name: LABELS.playFrom, keys: 'I', run: start },
          { name: LABELS.playTo, keys: 'O', run: end },
          { name: LABELS.playAll, keys: 'U', run: clear },
        ]
      : [],
  );
}

const BUTTON = 'h-7 shrink-0 rounded-sm border px-1.5 text-sm';

interface Props {
  options: PlayOptions;
  onOptions: (options: PlayOptions) => void;
  /** Null where there is none. */
  sound: PlayedSound | null;
}

/** How a moving shot is played: speed, there and back, range, sound. */
export function PlayControls({ options, onOptions, sound }: Props): ReactNode {
  const { speed, thereAndBack } = options;
  const next = SPEEDS[(SPEEDS.findIndex((s) => s === speed) + 1) % SPEEDS.length]!;
  return (
    <span className="flex shrink-0 items-center gap-1 pr-2">
      <button
        type="button"
        className={`num w-12 border-graphite ${BUTTON}`}
        aria-label={LABELS.speed(speed)}
        title={HELP.speed}
        onClick={() => onOptions({ ...options, speed: next })}
      >
        {speed}×
      </button>
      <button
        type="button"
        aria-pressed={thereAndBack}
        aria-label={LABELS.thereAndBack}
        title={HELP.thereAndBack}
        className={`${BUTTON} border-graphite ${thereAndBack ? 'bg-ink text-chalk' : ''}`}
        onClick={() => onOptions({ ...options, thereAndBack: !thereAndBack })}
      >
        <ArrowLeftRight size={16} aria-hidden />
      </button>
      {sound && (
        <button
          type="button"
          aria-pressed={!sound.muted}
          aria-label={LABELS.sound}
          title={HELP.sound}
          className={`${BUTTON} border-graphite`}
          onClick={() => sound.setMuted(!sound.muted)}
        >
          {sound.muted ? <VolumeX size={16} aria-hidden /> : <Volume2 size={16} aria-hidden />}
        </button>
      )}
    </span>
  );
}

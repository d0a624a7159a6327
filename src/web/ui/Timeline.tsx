import { Pause, Play } from 'lucide-react';
import { type PointerEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import type { FrameCurve } from '../../core/shots/kind.js';
import { parseRate, rateValue } from '../../core/units/rate.js';
import { timecode } from '../../core/units/timecode.js';
import { useCommands } from '../app/commands.js';
import { useKeys } from '../app/keys.js';
import { PLAIN_PLAY, playIndexIn, type PlayOptions } from './playIndex.js';
import { LABELS } from './words.js';

/** Plays frames at their true rate; says how many the screen could not show. */
export function usePlay(
  count: number,
  rate: string,
  index: number,
  onIndex: (i: number) => void,
  { speed, thereAndBack, range }: PlayOptions = PLAIN_PLAY,
): { playing: boolean; toggle: () => void; dropped: number } {
  const [playing, setPlaying] = useState(false);
  const [dropped, setDropped] = useState(0);
  const at = useRef({ index, onIndex });
  at.current = { index, onIndex };
  useEffect(() => {
    if (!playing || count < 2) return;
    const perSecond = rateValue(parseRate(rate)) * speed;
    const first = at.current.index;
    let last = 0;
    let missed = 0;
    let handle = 0;
    let started = 0;
    const tick = (now: number): void => {
      started ||= now;
      const whole = Math.floor(((now - started) / 1000) * perSecond);
      if (whole !== last) {
        missed += Math.max(0, whole - last - 1);
        last = whole;
        setDropped(missed);
        at.current.onIndex(playIndexIn(range, first, whole, count, thereAndBack));
      }
      handle = requestAnimationFrame(tick);
    };
    handle = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(handle);
  }, [playing, count, rate, speed, thereAndBack, range?.[0], range?.[1]]);
  return { playing, dropped, toggle: () => setPlaying(!playing) };
}

/** Space plays, arrow keys step a frame, with shift ten. */
export function useStepping(count: number, index: number, onIndex: (i: number) => void, toggle?: () => void): void {
  const step = (by: number): void => onIndex(Math.min(count - 1, Math.max(0, index + by)));
  useCommands([
    ...(toggle ? [{ name: LABELS.playOrPause, keys: 'Space', run: toggle }] : []),
    { name: LABELS.previousFrame, keys: '←', run: () => step(-1) },
    { name: LABELS.nextFrame, keys: '→', run: () => step(1) },
    { name: LABELS.tenFramesBack, keys: 'Shift ←', run: () => step(-10) },
    { name: LABELS.tenFramesOn, keys: 'Shift →', run: () => step(10) },
  ]);
  useKeys({
    space: toggle,
    ArrowLeft: () => step(-1),
    ArrowRight: () => step(1),
    'shift+ArrowLeft': () => step(-10),
    'shift+ArrowRight': () => step(10),
  });
}

interface TimelineProps {
  /** Frame numbers in order. */
  numbers: number[];
  rate: string;
  index: number;
  onIndex: (i: number) => void;
  play: ReturnType<typeof usePlay>;
  /** What changes over the frames, drawn above the ruler. */
  curve?: FrameCurve | null;
  /** How it plays, beside the button that plays. */
  options?: ReactNode;
  /** First and last place that play, where that is not all. */
  range?: [number, number] | null;
  /** Places of marks along the ruler, as of notes, and what each is. */
  marks?: readonly { index: number; to: number; label: string }[];
}

/** Height of the curve in pixels, and what stays free above and below it. */
const CURVE_HEIGHT = 30;
const CURVE_EDGE = 4;

/** The curve over the frames, between its least and greatest value. */
function Curve({ curve }: { curve: FrameCurve }): ReactNode {
  const { values } = curve;
  const [low, high] = values.reduce(([a, b], v) => [Math.min(a, v), Math.max(b, v)], [Infinity, -Infinity]);
  const span = high - low || 1;
  // More points than pixels say nothing more.
  const every = Math.max(1, Math.ceil(values.length / 1200));
  const points = values
    .map(
      (v, i) =>
        `${(((i + 0.5) / values.length) * 1000).toFixed(2)},${(CURVE_HEIGHT - CURVE_EDGE - ((v - low) / span) * (CURVE_HEIGHT - 2 * CURVE_EDGE)).toFixed(2)}`,
    )
    .filter((_, i) => i % every === 0 || i === values.length - 1);
  return (
    <svg
      viewBox={`0 0 1000 ${CURVE_HEIGHT}`}
      preserveAspectRatio="none"
      className="pointer-events-none absolute inset-x-0 top-0 w-full"
      style={{ height: CURVE_HEIGHT }}
      aria-hidden
    >
      <polyline points={points.join(' ')} fill="none" stroke="var(--color-cobalt)" strokeWidth={1.5} vectorEffect="non-scaling-stroke" />
    </svg>
  );
}

/** The ruler of a shot in frames and time; scrubs and plays. */
export function Timeline({ numbers, rate, index, onIndex, play, curve = null, options, range = null, marks = [] }: TimelineProps): ReactNode {
  const bar = useRef<HTMLDivElement>(null);
  const count = numbers.length;
  const scrub = (e: PointerEvent): void => {
    const box = bar.current!.getBoundingClientRect();
    onIndex(Math.min(count - 1, Math.max(0, Math.floor(((e.clientX - box.left) / box.width) * count))));
  };
  const every = Math.max(1, Math.ceil(count / 90));
  const labelled = Math.max(every, Math.ceil(count / 8 / every) * every);
  return (
    <div className="flex shrink-0 items-center border-t border-rule bg-chalk" style={{ height: curve ? 46 + CURVE_HEIGHT : 46 }}>
      <button
        type="button"
        className="flex h-full w-11 items-center justify-center"
        aria-label={play.playing ? LABELS.pause : LABELS.play}
        title="space"
        onClick={play.toggle}
      >
        {play.playing ? <Pause size={16} aria-hidden /> : <Play size={16} aria-hidden />}
      </button>
      {options}
      <div
        ref={bar}
        role="slider"
        tabIndex={0}
        aria-label={LABELS.frame}
        aria-valuemin={numbers[0] ?? 0}
        aria-valuemax={numbers.at(-1) ?? 0}
        aria-valuenow={numbers[index] ?? 0}
        className="relative h-full flex-1 cursor-ew-resize touch-none"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          scrub(e);
        }}
        onPointerMove={(e) => e.buttons === 1 && scrub(e)}
      >
        {curve && <Curve curve={curve} />}
        {numbers.map((n, i) =>
          i % every === 0 ? (
            <span
              key={n}
              className="absolute border-l border-graphite"
              style={{ top: curve ? CURVE_HEIGHT : 0, left: `${((i + 0.5) / count) * 100}%`, height: i % labelled === 0 ? 14 : 6 }}
            >
              {i % labelled === 0 && <span className="num absolute left-1 top-2 text-xs text-graphite">{String(n).padStart(4, '0')}</span>}
            </span>
          ) : null,
        )}
        {range && (
          <span
            className="pointer-events-none absolute bottom-0 h-1.5 bg-cobalt"
            data-testid="play-range"
            style={{ left: `${(range[0] / count) * 100}%`, width: `${((range[1] - range[0] + 1) / count) * 100}%` }}
          />
        )}
        {marks.map((mark, i) => (
          <span
            key={i}
            title={mark.label}
            data-testid="timeline-mark"
            className="absolute bottom-2 h-2 min-w-2 border border-ink bg-chalk"
            style={{ left: `${(mark.index / count) * 100}%`, width: `${((mark.to - mark.index + 1) / count) * 100}%` }}
          />
        ))}
        <span className="pointer-events-none absolute inset-y-0 border-l-2 border-madder" style={{ left: `${((index + 0.5) / count) * 100}%` }} />
      </div>
      <p className="num w-48 px-4 text-right text-sm" data-testid="rule-time">
        {String(numbers[index] ?? 0).padStart(4, '0')} <span className="text-graphite">{timecode(index, parseRate(rate))}</span>
        {curve && (
          <span className="block text-xs" data-testid="rule-curve">
            {curve.label} {(curve.values[index] ?? 0).toFixed(curve.decimals)}
            {curve.unit}
          </span>
        )}
        {play.dropped > 0 && <span className="block text-xs text-ochre">{LABELS.dropped(play.dropped)}</span>}
      </p>
    </div>
  );
}

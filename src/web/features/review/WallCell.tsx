/** One place of the wall: its newest render and what is to be said of it; a moving shot plays where the pointer rests. */
import { type MouseEvent, type ReactNode, useEffect, useState } from 'react';
import type { ResultReply } from '../../../contract/results.js';
import type { CellState } from '../../../core/review/wall.js';
import { useRunFrames } from '../../state/results.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import { isMovingResult } from './easelItems.js';
import { useStrip } from './useStrip.js';
import { HELP, MESSAGES, STATE_WORDS } from './words.js';

const LOOK: Record<CellState, string> = {
  redo: 'text-madder font-medium',
  stale: 'text-ochre',
  draft: 'text-graphite',
  partial: 'text-graphite',
  done: 'text-graphite',
  accepted: 'text-sap font-medium',
  planned: 'text-graphite',
  none: 'text-graphite',
};

/** Widths in which the server makes small pictures. */
const THUMB_WIDTHS = [160, 480, 960];

/** The smallest that is sharp at that width in CSS pixels. */
function thumbWidth(width: number): number {
  const needed = width * (window.devicePixelRatio || 1);
  return THUMB_WIDTHS.find((w) => w >= needed) ?? THUMB_WIDTHS.at(-1)!;
}

interface Props {
  result: ResultReply | undefined;
  state: CellState;
  grounds: string[];
  /** CSS pixels. */
  width: number;
  height: number;
  /** Its place on the easel. */
  place: string | undefined;
  focused: boolean;
  label: string;
  onFocus: () => void;
  onShow: () => void;
  onAdd: () => void;
  /** The pointer or the focus is on it. */
  onRest: () => void;
  onContextMenu?: (e: MouseEvent) => void;
}

/** One cell: its render or strip, and its state. */
export function WallCell({
  result,
  state,
  grounds,
  width,
  height,
  place,
  focused,
  label,
  onFocus,
  onShow,
  onAdd,
  onRest,
  onContextMenu,
}: Props): ReactNode {
  const moving = result !== undefined && isMovingResult(result) && result.done > 1;
  // Asked for when the pointer first comes.
  const [asked, setAsked] = useState(false);
  const { data: frames } = useRunFrames(moving && asked ? result : null);
  const done = frames?.filter((f) => f.state === 'done') ?? [];
  const { share, step, onMove, onLeave } = useStrip(moving ? done.length : 0);
  const at = share === null ? -1 : Math.min(done.length - 1, Math.floor(share * done.length));
  const under = done[at];
  const frame = under ?? (result && { id: result.cover, samples: result.coverSamples });
  const small = (of: { id: number; samples: number | null }): string => `${frameImageUrl(result!.batch, of, 'thumb')}&width=${thumbWidth(width)}`;
  const next = under && done[(at + step) % done.length];
  useEffect(() => {
    if (next) new Image().src = small(next);
  }, [next?.id]);
  const said = result
    ? MESSAGES.cell(STATE_WORDS[state], state === 'stale' ? grounds.join(', ') : '', result.done, result.total, isMovingResult(result))
    : STATE_WORDS[state];
  return (
    <button
      type="button"
      role="gridcell"
      tabIndex={focused ? 0 : -1}
      data-state={state}
      data-focus={focused || undefined}
      aria-selected={place !== undefined}
      aria-label={MESSAGES.cellLabel(label, said, place ?? '')}
      title={result ? HELP.wallCell : undefined}
      disabled={!result}
      className="flex shrink-0 flex-col items-stretch text-left disabled:cursor-default"
      style={{ width }}
      onFocus={() => {
        onFocus();
        onRest();
      }}
      onClick={(e) => (e.ctrlKey || e.metaKey || e.shiftKey ? onAdd() : onShow())}
      onPointerEnter={() => {
        setAsked(true);
        onRest();
      }}
      onPointerMove={moving ? onMove : undefined}
      onPointerLeave={onLeave}
      onContextMenu={onContextMenu}
    >
      <span
        className={`relative flex items-center justify-center bg-mount ${place ? 'outline outline-2 outline-ink' : ''} ${result ? '' : 'opacity-40'}`}
        style={{ height }}
      >
        {result && frame && <img src={small(frame)} alt="" loading="lazy" draggable={false} className="max-h-full max-w-full p-[3px]" />}
        {place && <span className="plate num absolute left-1 top-1 px-1 text-xs">{place}</span>}
        {under && <span className="plate num absolute bottom-1 right-1 px-1 text-xs">{under.number}</span>}
      </span>
      <span className={`truncate pt-0.5 text-xs leading-4 ${LOOK[state]}`} title={said}>
        {said}
      </span>
    </button>
  );
}

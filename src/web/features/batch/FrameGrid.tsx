/** Every frame of a batch is a cell that fills with its picture; only the rows in sight are drawn, however many there are. */
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useNavigate } from 'react-router';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import { formatRanges } from '../../../core/plan/selection.js';
import { toast } from '../../state/toast.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import { LABELS, MESSAGES } from './words.js';

const CELL = 26;
const GAP = 2;
const ROW = CELL + GAP;
/** Space at both sides of the rows. */
const INSET = 36;

const CELL_LOOK: Record<FrameReply['state'], string> = {
  waiting: 'border border-rule',
  rendering: 'border-2 border-madder',
  done: '',
  failed: 'border-2 border-ochre',
};

type Row =
  | { kind: 'head'; key: string; place: number; name: string; done: number; total: number }
  | { kind: 'cells'; key: string; frames: FrameReply[] }
  | { kind: 'failure'; key: string; numbers: number[]; reason: string };

/** Frame numbers of a shot that failed, once for each reason. */
function failuresOf(frames: readonly FrameReply[]): Map<string, number[]> {
  const byReason = new Map<string, number[]>();
  for (const f of frames) {
    if (f.state !== 'failed') continue;
    const reason = f.message ?? MESSAGES.noReasonGiven;
    byReason.set(reason, [...(byReason.get(reason) ?? []), f.number]);
  }
  return byReason;
}

/** The rows of all shots, with so many cells each. */
export function gridRows(frames: readonly FrameReply[], perRow: number): Row[] {
  const shots = new Map<string, FrameReply[]>();
  for (const f of frames) {
    const own = shots.get(f.shot);
    if (own) own.push(f);
    else shots.set(f.shot, [f]);
  }
  return [...shots].flatMap(([shot, own], i): Row[] => [
    { kind: 'head', key: shot, place: i + 1, name: own[0]!.shotName, done: own.filter((f) => f.state === 'done').length, total: own.length },
    ...Array.from({ length: Math.ceil(own.length / perRow) }, (_, r): Row => ({
      kind: 'cells',
      key: `${shot} ${r}`,
      frames: own.slice(r * perRow, (r + 1) * perRow),
    })),
    ...[...failuresOf(own)].map(([reason, numbers]): Row => ({ kind: 'failure', key: `${shot} ${reason}`, numbers, reason })),
  ]);
}

/** What a cell says of its frame. */
function titleOf({ number, state, seconds, message, takenOver, developed }: FrameReply): string {
  const time = seconds === null ? '' : `, ${seconds.toFixed(2)} s`;
  const how = developed ? (developed === 'exact' ? LABELS.developed : LABELS.refiltered) : takenOver ? LABELS.takenOver : state;
  return MESSAGES.frame(number, how.toLowerCase(), time, message ? `: ${message}` : '');
}

function Cell({ batch, frame, width, actions }: { batch: BatchReply; frame: FrameReply; width: number; actions: () => MenuAction[] }): ReactNode {
  const { state, damage, takenOver, developed, name } = frame;
  return (
    <span
      data-state={damage ?? state}
      {...(takenOver && { 'data-taken-over': '' })}
      {...(developed && { 'data-developed': developed })}
      title={titleOf(frame)}
      onContextMenu={menuOf(name, actions)}
      className={`relative block h-[26px] shrink-0 ${damage ? CELL_LOOK.failed : CELL_LOOK[state]}`}
      style={{ width }}
    >
      {state === 'done' && damage !== 'missing' && (
        <img src={frameImageUrl(batch.id, frame, 'thumb')} alt="" loading="lazy" className="h-full w-full object-cover" />
      )}
      {(takenOver || developed) && <span className="absolute inset-x-0 bottom-0 h-[3px] bg-chalk/80" aria-hidden />}
    </span>
  );
}

/** All frames of a batch, of which only those in sight are drawn. */
export function FrameGrid({ batch, frames }: { batch: BatchReply; frames: FrameReply[] }): ReactNode {
  const navigate = useNavigate();
  const scroll = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(600);
  useEffect(() => {
    const box = scroll.current!;
    const observer = new ResizeObserver(() => setRoom(box.clientWidth));
    observer.observe(box);
    return () => observer.disconnect();
  }, []);
  const width = Math.max(4, Math.round((CELL * batch.size.width) / batch.size.height));
  const perRow = Math.max(1, Math.floor((room - INSET + GAP) / (width + GAP)));
  const rows = useMemo(() => gridRows(frames, perRow), [frames, perRow]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: (i) => (rows[i]!.kind === 'cells' ? ROW : 34),
    getItemKey: (i) => rows[i]!.key,
    overscan: 12,
  });
  const frameActions = (f: FrameReply): MenuAction[] => [
    {
      label: LABELS.openInReview,
      disabled: f.state !== 'done',
      run: () => void navigate(`../review?batch=${batch.id}&shot=${encodeURIComponent(f.shot)}&frame=${f.id}`),
    },
    { label: LABELS.copyFileName, run: () => void navigator.clipboard.writeText(f.name).catch((e: Error) => toast.error(e.message)) },
  ];
  const show = (row: Row): ReactNode => {
    if (row.kind === 'head')
      return (
        <h2 className="pb-1 pt-2 font-medium">
          <span className="num mr-2 text-graphite">{String(row.place).padStart(2, '0')}</span>
          {row.name}
          <span className="num ml-3 text-sm text-graphite">
            {row.done} / {row.total}
          </span>
        </h2>
      );
    if (row.kind === 'failure')
      return (
        <p className="py-1 text-sm text-ochre">
          <span className="num">{LABELS.failedFrames(formatRanges(row.numbers))}</span> {row.reason}
        </p>
      );
    return (
      <div className="flex gap-[2px] pb-[2px]">
        {row.frames.map((f) => (
          <Cell key={f.id} batch={batch} frame={f} width={width} actions={() => frameActions(f)} />
        ))}
      </div>
    );
  };
  return (
    <div ref={scroll} className="min-h-0 overflow-auto px-[18px] py-1" data-testid="grid">
      <div className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, key, start }) => (
          <div
            key={key}
            data-index={index}
            ref={virtual.measureElement}
            className="absolute inset-x-0 top-0"
            style={{ transform: `translateY(${start}px)` }}
          >
            {show(rows[index]!)}
          </div>
        ))}
      </div>
    </div>
  );
}

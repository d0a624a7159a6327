/** The shot list: a row for each shot, in the order of the set; strips of moving shots stand on one common time scale. */
import { type MouseEvent, type ReactNode, useMemo, useRef } from 'react';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useVirtualizer } from '@tanstack/react-virtual';
import { GripVertical } from 'lucide-react';
import type { Frame } from '../../../core/frame/frame.js';
import { overriddenFields, type FormatSheet, effectiveSettings } from '../../../core/plan/formatSheet.js';
import { frameCount, kindOf, type Shot, shotName } from '../../../core/shots/kinds.js';
import type { Site } from '../../../core/stage/site.js';
import { frameTime, parseRate } from '../../../core/units/rate.js';
import type { View } from '../../../core/camera/view.js';
import { timecode } from '../../../core/units/timecode.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { SortableList } from '../../ui/SortableList.js';
import { Thumbnail, thumbnailUrl } from '../../ui/Thumbnail.js';
import { about } from '../../app/format.js';
import { forecastOfShot, useForecastState } from '../forecast/useForecastState.js';
import { HELP as HELP_FORECAST, LABELS as FORECAST } from '../forecast/words.js';
import { LABELS, MESSAGES } from './words.js';

const CELL = 48;
const STRIP = 432;
const ROW = 37;
const HEADS = ['w-16', 'w-48', 'w-28', '', 'w-20', 'w-28', 'w-20', ''];

interface ShotTableProps {
  shots: Shot[];
  framesOf: Map<string, Frame[]>;
  sheet: FormatSheet;
  views: View[];
  site: Site | undefined;
  setId: number;
  revision: number;
  version: string;
  selected: string | undefined;
  /** Ids of rows that are edited together. */
  marked: ReadonlySet<string>;
  onSelect: (id: string, how: 'alone' | 'more' | 'range') => void;
  /** What a right click on a row offers. */
  actionsOf: (shot: Shot) => readonly MenuAction[];
  /** A row was dragged to another's place; absent where the list is filtered. */
  onMove?: (id: string, to: string) => void;
}

/** Indices of the small frames that a strip of that width shows. */
function strip(count: number, width: number): number[] {
  const cells = Math.max(1, Math.min(count, Math.floor(width / CELL)));
  return Array.from({ length: cells }, (_, i) => Math.floor((i * count) / cells));
}

interface RowProps extends Omit<ShotTableProps, 'shots' | 'framesOf'> {
  shot: Shot;
  number: number;
  count: number;
  /** Seconds that the strips' scale is long. */
  seconds: number;
}

function Row({ shot, number, count, seconds, sheet, setId, revision, version, selected, marked, onSelect, actionsOf, onMove }: RowProps): ReactNode {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({ id: shot.id, disabled: !onMove });
  const kind = kindOf(shot);
  const exact = parseRate(effectiveSettings(sheet, shot).rate);
  const width = kind.moving ? Math.max(CELL, (frameTime(count, exact) / seconds) * STRIP) : Math.min(STRIP, count * CELL);
  const on = shot.id === selected;
  const deviations = overriddenFields(sheet, shot);
  const foreseen = forecastOfShot(useForecastState()?.answer ?? null, shot.id);
  const choose = (e: MouseEvent): void => onSelect(shot.id, e.shiftKey ? 'range' : e.ctrlKey || e.metaKey ? 'more' : 'alone');
  return (
    <tr
      ref={setNodeRef}
      aria-selected={on || marked.has(shot.id)}
      onClick={choose}
      onContextMenu={menuOf(shotName(shot), () => actionsOf(shot))}
      className={`h-9 cursor-pointer border-b border-rule ${on || marked.has(shot.id) ? 'bg-chalk' : ''} ${shot.off ? 'opacity-50' : ''}`}
      style={{
        transform: CSS.Translate.toString(transform),
        transition,
        ...(on && { boxShadow: 'inset 3px 0 0 var(--color-madder)' }),
      }}
    >
      <td className="num whitespace-nowrap pl-1 pr-3">
        <button
          type="button"
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          disabled={!onMove}
          aria-label={LABELS.drag(shotName(shot))}
          className="mr-0.5 cursor-grab align-middle text-graphite disabled:opacity-0"
        >
          <GripVertical size={13} aria-hidden />
        </button>
        {String(number).padStart(2, '0')}
      </td>
      <td className="max-w-48 truncate pr-3">
        <button type="button" className="font-medium">
          {shotName(shot)}
        </button>
      </td>
      <td className="pr-3 text-graphite">{kind.label}</td>
      <td>
        <span className={`flex overflow-hidden ${on ? 'outline outline-1 outline-ink' : ''}`} style={{ width }}>
          {(count > 0 ? strip(count, width) : []).map((index) => (
            <Thumbnail
              key={index}
              src={thumbnailUrl(setId, revision, { shot: shot.id, index }, version, 96)}
              alt=""
              className="h-[27px] min-w-0 flex-1 object-cover"
            />
          ))}
        </span>
      </td>
      <td className="num pl-3 text-right">{count}</td>
      <td className="num pl-3 text-right text-graphite max-[1100px]:hidden">{kind.moving ? timecode(count, exact) : '–'}</td>
      <td className="num whitespace-nowrap pl-3 text-right" title={HELP_FORECAST.shot}>
        {foreseen ? about(foreseen.seconds.likely) : <span className="text-graphite">–</span>}
      </td>
      <td
        className="num pl-3 text-right text-ochre max-[1180px]:pr-[18px]"
        title={deviations.length > 0 ? MESSAGES.overrides(deviations.join(', ')) : undefined}
      >
        {deviations.length > 0 && `± ${deviations.length}`}
      </td>
      <td className="max-w-56 truncate pl-6 pr-[18px] text-graphite max-[1180px]:hidden" title={kind.summary(shot, exact)}>
        {shot.off ? LABELS.off : kind.summary(shot, exact)}
      </td>
    </tr>
  );
}

/** All shots in their order, of which only those in sight are drawn. */
export function ShotTable(props: ShotTableProps): ReactNode {
  const { shots, framesOf, sheet, views, site, onMove } = props;
  const scroll = useRef<HTMLDivElement>(null);
  const counts = useMemo(
    () => shots.map((s) => framesOf.get(s.id)?.length ?? frameCount(s, { rate: parseRate(effectiveSettings(sheet, s).rate), views, site })),
    [shots, framesOf, sheet, views, site],
  );
  const lengths = shots.map((s, i) => (kindOf(s).moving ? frameTime(counts[i]!, parseRate(effectiveSettings(sheet, s).rate)) : 0));
  const seconds = Math.max(1, Math.ceil(lengths.reduce((a, b) => Math.max(a, b), 0)));
  const every = Math.ceil(seconds / 8);
  // A group's name stands over its first shot.
  const rows = shots.flatMap((shot, i) => [
    ...(shot.group && shot.group !== shots[i - 1]?.group ? [{ group: shot.group, key: `group ${i}` }] : []),
    { shot, count: counts[i]!, number: i + 1, key: shot.id },
  ]);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroll.current, estimateSize: () => ROW, overscan: 8 });
  const visible = virtual.getVirtualItems();
  const above = visible[0]?.start ?? 0;
  const below = virtual.getTotalSize() - (visible.at(-1)?.end ?? 0);
  const nameOf = (id: string): string => shotName(shots.find((s) => s.id === id)!);
  return (
    <div ref={scroll} className="min-h-0 overflow-auto" data-testid="register">
      <SortableList ids={shots.map((s) => s.id)} nameOf={nameOf} onMove={(id, to) => onMove?.(id, to)}>
        <table className="w-full border-collapse text-sm">
          <thead className="font-head text-left">
            <tr className="border-b border-rule">
              <th className={`${HEADS[0]} py-1 pl-[18px] font-semibold`}>{LABELS.no}</th>
              <th className={`${HEADS[1]} font-semibold`}>{LABELS.shot}</th>
              <th className={`${HEADS[2]} font-semibold`}>{LABELS.kind}</th>
              <th className="relative num text-xs font-medium" style={{ width: STRIP }}>
                {Array.from({ length: Math.floor(seconds / every) + 1 }, (_, i) => (
                  <span key={i} className="absolute bottom-1" style={{ left: Math.min(STRIP - 22, ((i * every) / seconds) * STRIP) }}>
                    {i * every}s
                  </span>
                ))}
              </th>
              <th className={`${HEADS[4]} pl-3 text-right font-semibold`}>{LABELS.frames}</th>
              <th className={`${HEADS[5]} pl-3 text-right font-semibold max-[1100px]:hidden`}>{LABELS.length}</th>
              <th className={`${HEADS[4]} pl-3 text-right font-semibold`}>{FORECAST.forecast}</th>
              <th className={`${HEADS[6]} pl-3 text-right font-semibold max-[1180px]:pr-[18px]`}>{LABELS.overrides}</th>
              <th className="pl-6 pr-[18px] font-semibold max-[1180px]:hidden">{LABELS.content}</th>
            </tr>
          </thead>
          <tbody>
            {above > 0 && (
              <tr aria-hidden>
                <td style={{ height: above }} />
              </tr>
            )}
            {visible.map(({ index }) => {
              const row = rows[index]!;
              return 'group' in row ? (
                <tr key={row.key} className="h-6 border-b border-rule">
                  <td />
                  <td colSpan={8} className="font-head text-xs font-medium text-graphite">
                    {row.group}
                  </td>
                </tr>
              ) : (
                <Row key={row.key} {...props} shot={row.shot!} number={row.number!} count={row.count!} seconds={seconds} />
              );
            })}
            {below > 0 && (
              <tr aria-hidden>
                <td style={{ height: below }} />
              </tr>
            )}
          </tbody>
        </table>
      </SortableList>
    </div>
  );
}

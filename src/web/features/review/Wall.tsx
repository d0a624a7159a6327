/** Rows are shots, columns are what is chosen; only the rows in sight are drawn. Arrow keys go from cell to cell. */
import { type KeyboardEvent, type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';
import type { ResultReply } from '../../../contract/results.js';
import type { CellState, WallColumn, WallRow } from '../../../core/review/wall.js';
import { isMoving } from '../../../core/shots/kinds.js';
import { WallCell } from './WallCell.js';
import { LABELS } from './words.js';

/** What a cell shows. */
export interface WallCellData {
  result: ResultReply | undefined;
  state: CellState;
  grounds: string[];
}

interface Props {
  rows: WallRow[];
  columns: { column: WallColumn<ResultReply>; label: string }[];
  cellOf: (row: WallRow, column: WallColumn<ResultReply>) => WallCellData;
  viewName: (view: string) => string;
  /** CSS pixels of a cell's picture. */
  cell: { width: number; height: number };
  placeOf: (result: ResultReply) => string | undefined;
  onShow: (result: ResultReply) => void;
  onAdd: (result: ResultReply) => void;
  /** The pointer or the focus is on it. */
  onRest: (result: ResultReply) => void;
}

const CAPTION = 18;
const GAP = 10;
const NAME_WIDTH = 118;
const STEP: Record<string, [number, number]> = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] };

/** What a row is called: the shot once, and under it the view or the count of frames. */
function RowName({ row, first, view }: { row: WallRow; first: boolean; view: string }): ReactNode {
  return (
    <span role="rowheader" className="flex shrink-0 flex-col pr-2 text-sm leading-tight" style={{ width: NAME_WIDTH }}>
      <span className={`truncate ${first ? 'font-medium' : 'sr-only'}`} title={row.name}>
        {row.name}
      </span>
      <span className="truncate text-graphite" title={view}>
        {isMoving(row.kind) ? LABELS.framesOf(row.frames) : view}
      </span>
      {!row.planned && <span className="text-xs text-ochre">{LABELS.notPlanned}</span>}
    </span>
  );
}

/** All results of the set by shot and by what is compared. */
export function Wall({ rows, columns, cellOf, viewName, cell, placeOf, onShow, onAdd, onRest }: Props): ReactNode {
  const scroll = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<[number, number]>([0, 0]);
  /** Whether a person came here by Tab, and not by a click. */
  const byKeys = useRef(false);
  const height = cell.height + CAPTION + GAP;
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => height,
    getItemKey: (i) => rows[i]!.key,
    overscan: 4,
  });
  useEffect(() => virtual.measure(), [height]);
  // A key reaches the wall at a cell that holds something.
  const start = useMemo((): [number, number] => {
    for (const [r, row] of rows.entries()) for (const [c, { column }] of columns.entries()) if (cellOf(row, column).result) return [r, c];
    return [0, 0];
  }, [rows, columns]);
  const [focusRow, focusColumn] = rows[at[0]] && columns[at[1]] && cellOf(rows[at[0]]!, columns[at[1]]!.column).result ? at : start;
  const firsts = useMemo(() => new Set(rows.filter((r, i) => rows[i - 1]?.name !== r.name).map((r) => r.key)), [rows]);
  const onKey = (e: KeyboardEvent): void => {
    // After a click the arrow keys step the frames of what is shown.
    if (!byKeys.current && e.key in STEP) return;
    const step = STEP[e.key];
    if (e.key === 'c' || (e.key === 'Enter' && (e.ctrlKey || e.shiftKey))) {
      const result = rows[focusRow] && columns[focusColumn] && cellOf(rows[focusRow]!, columns[focusColumn]!.column).result;
      if (!result) return;
      e.preventDefault();
      onAdd(result);
      return;
    }
    if (!step) return;
    e.preventDefault();
    // Over cells with nothing in them.
    let [r, c] = [focusRow, focusColumn];
    do {
      r += step[0];
      c += step[1];
      if (r < 0 || c < 0 || r >= rows.length || c >= columns.length) return;
    } while (!cellOf(rows[r]!, columns[c]!.column).result);
    setAt([r, c]);
    virtual.scrollToIndex(r);
    requestAnimationFrame(() => scroll.current?.querySelector<HTMLElement>('[data-focus]')?.focus());
  };
  return (
    <div
      ref={scroll}
      className="min-h-0 flex-1 overflow-auto"
      role="grid"
      aria-label={LABELS.wall}
      aria-rowcount={rows.length + 1}
      onKeyDown={onKey}
      onKeyUp={(e) => (byKeys.current ||= e.key === 'Tab')}
      onPointerDown={() => (byKeys.current = false)}
      data-testid="wall"
    >
      <div role="row" className="sticky top-0 z-10 flex w-max min-w-full items-center border-b border-rule bg-chalk px-4 py-1.5" style={{ gap: GAP }}>
        <span role="columnheader" className="shrink-0 font-head text-sm font-medium" style={{ width: NAME_WIDTH }}>
          {LABELS.shot}
        </span>
        {columns.map(({ column, label }) => (
          <span
            key={column.key}
            role="columnheader"
            className="shrink-0 truncate font-head text-sm font-medium"
            style={{ width: cell.width }}
            title={label}
          >
            {label}
          </span>
        ))}
      </div>
      <div className="relative w-max min-w-full" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, key, start }) => {
          const row = rows[index]!;
          const view = viewName(row.view);
          return (
            <div
              key={key}
              role="row"
              className="absolute left-0 flex w-max min-w-full border-b border-rule px-4 pt-1"
              style={{ gap: GAP, height, transform: `translateY(${start}px)` }}
            >
              <RowName row={row} first={firsts.has(row.key)} view={view} />
              {columns.map(({ column, label }, c) => {
                const { result, state, grounds } = cellOf(row, column);
                return (
                  <WallCell
                    key={column.key}
                    result={result}
                    state={state}
                    grounds={grounds}
                    width={cell.width}
                    height={cell.height}
                    place={result && placeOf(result)}
                    focused={focusRow === index && focusColumn === c}
                    label={[row.name, view, label].filter(Boolean).join(', ')}
                    onFocus={() => setAt([index, c])}
                    onShow={() => result && onShow(result)}
                    onAdd={() => result && onAdd(result)}
                    onRest={() => result && onRest(result)}
                  />
                );
              })}
            </div>
          );
        })}
      </div>
    </div>
  );
}

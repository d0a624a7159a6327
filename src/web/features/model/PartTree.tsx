/** The part tree: what is shown in the viewport, what renders, and in which materials. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { type ReactNode, useEffect, useId, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { PartReply } from '../../../contract/contract.js';
import type { ResolvedPart } from '../../../core/materials/assignments.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { PartRow, ROW } from './PartRow.js';
import { PartSearch } from './PartSearch.js';
import { usePartKeys } from './usePartKeys.js';
import { type Filter, usePartRows } from './usePartRows.js';
import { HELP, LABELS } from './words.js';

interface PartTreeProps {
  parts: PartReply[];
  /** What each comes to, in the same order. */
  resolved: ResolvedPart[];
  selected: ReadonlySet<string>;
  onSelect: (paths: Set<string>) => void;
  onSwitch: (path: string, which: 'viewportVisible' | 'renderVisible', on: boolean) => void;
  /** A material was dropped on a part. */
  onDrop: (path: string, material: string) => void;
}

/** The parts of the model, to be found, selected and switched. */
export function PartTree({ parts, resolved, selected, onSelect, onSwitch, onDrop }: PartTreeProps): ReactNode {
  // A pixel that was asked leads here by its part's name.
  const [query] = useSearchParams();
  const [search, setSearch] = useState(query.get('part') ?? '');
  const [filter, setFilter] = useState<Filter>('all');
  const id = useId();
  const list = useRef<HTMLDivElement>(null);
  const rows = usePartRows(parts, resolved, search, filter);
  const view = useVirtualizer({ count: rows.length, getScrollElement: () => list.current, estimateSize: () => ROW, overscan: 12 });
  const first = [...selected][0];
  const latest = useRef(rows);
  latest.current = rows;
  useEffect(() => {
    const show = (): void => {
      const at = first === undefined ? -1 : latest.current.findIndex((r) => r.part.path === first);
      if (at >= 0) view.scrollToIndex(at, { align: 'auto' });
    };
    show();
    // Also where another filter has moved it, and where the panel below takes room from the list.
    const observer = new ResizeObserver(show);
    observer.observe(list.current!);
    return () => observer.disconnect();
  }, [first, view, filter, search]);
  const { here, press, click } = usePartKeys({
    rows,
    selected,
    onSelect,
    onSwitch,
    page: () => Math.max(1, Math.floor((list.current?.clientHeight ?? 0) / ROW) - 1),
    show: (row) => view.scrollToIndex(row, { align: 'auto' }),
  });
  const partActions = (path: string, { viewportVisible, renderVisible }: ResolvedPart): MenuAction[] => [
    { label: viewportVisible ? LABELS.hideInViewport : LABELS.showInViewport, run: () => onSwitch(path, 'viewportVisible', !viewportVisible) },
    { label: renderVisible ? LABELS.leaveOutOfRenders : LABELS.showInRenders, run: () => onSwitch(path, 'renderVisible', !renderVisible) },
    {
      label: LABELS.selectWithPartsBelow,
      run: () => onSelect(new Set(parts.flatMap((p) => (p.path === path || p.path.startsWith(`${path}/`) ? [p.path] : [])))),
    },
  ];
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <PartSearch search={search} onSearch={setSearch} filter={filter} onFilter={setFilter} found={rows.length} />
      <div ref={list} className="min-h-0 flex-1 overflow-auto py-1 text-sm">
        <div
          role="tree"
          tabIndex={0}
          aria-label={LABELS.parts}
          aria-multiselectable
          aria-description={HELP.partTreeKeys}
          aria-activedescendant={rows.length > 0 ? `${id}${rows[here]!.index}` : undefined}
          className="group relative"
          style={{ height: view.getTotalSize() }}
          onKeyDown={press}
          // By key: the row that keys act on. A click is the row's own.
          onContextMenu={menuOf(LABELS.parts, () => (rows[here] ? partActions(rows[here].part.path, rows[here].effective) : []))}
        >
          {view.getVirtualItems().map(({ index: row, start }) => {
            const of = rows[row]!;
            return (
              <PartRow
                key={of.part.path}
                id={`${id}${of.index}`}
                row={of}
                at={row}
                of={rows.length}
                selected={selected.has(of.part.path)}
                here={row === here}
                top={start}
                indent={12 + (search || filter !== 'all' ? 0 : of.depth * 12)}
                onClick={(e) => click(e, row)}
                actions={() => partActions(of.part.path, of.effective)}
                onSwitch={onSwitch}
                onDrop={onDrop}
              />
            );
          })}
        </div>
      </div>
    </div>
  );
}

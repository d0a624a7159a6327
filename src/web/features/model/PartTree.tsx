/** The part tree: what is shown in the viewport, what renders, and in which materials. */
import { Search } from 'lucide-react';
import { type KeyboardEvent, type MouseEvent, type ReactNode, useId, useEffect, useMemo, useRef, useState } from 'react';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useSearchParams } from 'react-router';
import type { PartReply } from '../../../contract/contract.js';
import type { ResolvedPart } from '../../../core/materials/assignments.js';
import { hasDraggedMaterial, droppedMaterial } from '../../ui/dragMaterial.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const FILTERS = {
  all: LABELS.allParts,
  renders: MESSAGES.renderedButHiddenHere,
  shown: MESSAGES.shownHereNotRendered,
  lines: LABELS.lines,
} as const;
type Filter = keyof typeof FILTERS;

const ROW = 24;

/** How deep each stands in the tree; parents stand before their children. */
function depthsOf(parts: PartReply[]): number[] {
  const depths: number[] = [];
  for (const { parent } of parts) depths.push(parent >= 0 ? depths[parent]! + 1 : 0);
  return depths;
}

interface SwitchProps {
  word: string;
  on: boolean;
  name: string;
  onChange: (on: boolean) => void;
}

/** A labelled square: filled where it is on. */
function Square({ word, on, name, onChange }: SwitchProps): ReactNode {
  return (
    <button
      type="button"
      tabIndex={-1}
      role="switch"
      aria-checked={on}
      aria-label={`${name}: ${word}`}
      className={`shrink-0 rounded-sm border px-1 text-xs leading-[15px] ${on ? 'border-graphite bg-graphite text-chalk' : 'border-rule text-graphite line-through'}`}
      onClick={(e) => {
        e.stopPropagation();
        onChange(!on);
      }}
    >
      {word}
    </button>
  );
}

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
  const [under, setUnder] = useState<string | null>(null);
  const [active, setActive] = useState<string | null>(null);
  const id = useId();
  const anchor = useRef<number | null>(null);
  const list = useRef<HTMLDivElement>(null);
  const depths = useMemo(() => depthsOf(parts), [parts]);
  const rows = useMemo(() => {
    const wanted = search.trim().toLowerCase();
    return parts
      .map((part, index) => ({ part, index, depth: depths[index]!, effective: resolved[index]! }))
      .filter(({ part, effective }) => {
        if (wanted && !part.path.toLowerCase().includes(wanted)) return false;
        // A solid's edges would double the tree; they are there when asked for.
        if (filter === 'lines') return part.lines !== undefined;
        if (part.lines !== undefined && !wanted) return false;
        if (filter === 'all' || part.triangles === 0) return filter === 'all';
        return filter === 'renders' ? effective.renderVisible && !effective.viewportVisible : effective.viewportVisible && !effective.renderVisible;
      });
  }, [parts, depths, resolved, search, filter]);
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
  const from = rows.findIndex((r) => r.part.path === active);
  /** The row that keys act on: where one was last, else the selected one, else the first. */
  const here =
    from >= 0
      ? from
      : Math.max(
          0,
          rows.findIndex((r) => selected.has(r.part.path)),
        );
  const extend = (row: number): void => {
    const [low, high] = [Math.min(anchor.current ?? row, row), Math.max(anchor.current ?? row, row)];
    onSelect(new Set([...selected, ...rows.slice(low, high + 1).map((r) => r.part.path)]));
  };
  /** Row that an arrow leads to: the next, the first of what hangs below, the one above. */
  const rowFor = (key: string): number | undefined => {
    const depth = rows[here]?.depth ?? 0;
    const page = Math.max(1, Math.floor((list.current?.clientHeight ?? 0) / ROW) - 1);
    const above = (): number => rows.slice(0, here).findLastIndex((r) => r.depth < depth);
    const below = (rows[here + 1]?.depth ?? -1) > depth ? here + 1 : here;
    const to: Record<string, number> = {
      ArrowDown: here + 1,
      ArrowUp: here - 1,
      PageDown: here + page,
      PageUp: here - page,
      Home: 0,
      End: rows.length - 1,
    };
    if (key === 'ArrowRight') return below;
    if (key === 'ArrowLeft') return Math.max(0, above());
    return to[key] === undefined ? undefined : Math.min(Math.max(to[key], 0), rows.length - 1);
  };
  const press = (e: KeyboardEvent): void => {
    const row = rows[here];
    if (!row || e.altKey || e.target !== e.currentTarget) return;
    const { path } = row.part;
    const next = rowFor(e.key);
    if (next !== undefined) {
      setActive(rows[next]!.part.path);
      view.scrollToIndex(next, { align: 'auto' });
      if (e.shiftKey) {
        anchor.current ??= here;
        extend(next);
      } else if (!e.ctrlKey && !e.metaKey) {
        anchor.current = next;
        onSelect(new Set([rows[next]!.part.path]));
      }
    } else if (e.key === ' ' || e.key === 'Enter') {
      anchor.current = here;
      toggle(path, e.ctrlKey || e.metaKey);
    } else if (e.key.toLowerCase() === 'a' && (e.ctrlKey || e.metaKey)) onSelect(new Set(rows.map((r) => r.part.path)));
    else if (e.key === 'Escape' && selected.size > 0) onSelect(new Set());
    else if (e.key === 'v' && !e.ctrlKey && !e.metaKey) onSwitch(path, 'viewportVisible', !row.effective.viewportVisible);
    else if (e.key === 'r' && !e.ctrlKey && !e.metaKey) onSwitch(path, 'renderVisible', !row.effective.renderVisible);
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const toggle = (path: string, add: boolean): void => {
    if (add) {
      const next = new Set(selected);
      if (!next.delete(path)) next.add(path);
      onSelect(next);
    } else onSelect(selected.size === 1 && selected.has(path) ? new Set() : new Set([path]));
  };
  const click = (e: MouseEvent, row: number): void => {
    const { path } = rows[row]!.part;
    setActive(path);
    if (e.shiftKey && anchor.current !== null) return extend(row);
    anchor.current = row;
    toggle(path, e.ctrlKey || e.metaKey);
  };
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
      <label className="flex items-center gap-2 border-b border-rule px-4 py-2">
        <Search size={16} aria-hidden className="text-graphite" />
        <input
          aria-label={LABELS.searchParts}
          title={HELP.searchParts}
          className="w-full bg-transparent"
          placeholder={LABELS.searchParts}
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          onKeyDown={(e) => e.stopPropagation()}
        />
        <select
          aria-label={LABELS.show}
          title={HELP.show}
          className="max-w-28 bg-transparent text-xs text-graphite"
          value={filter}
          onChange={(e) => setFilter(e.target.value as Filter)}
        >
          {Object.entries(FILTERS).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
        <span className="num text-sm text-graphite">{rows.length}</span>
      </label>
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
            const { part, index, depth, effective } = rows[row]!;
            return (
              <div
                key={part.path}
                id={`${id}${index}`}
                role="treeitem"
                aria-level={depth + 1}
                aria-selected={selected.has(part.path)}
                aria-setsize={rows.length}
                aria-posinset={row + 1}
                className={`absolute inset-x-0 flex cursor-default items-center gap-1.5 border-l-[3px] pr-3 ${selected.has(part.path) ? 'border-madder bg-paper font-medium' : 'border-transparent'} ${under === part.path ? 'outline outline-2 -outline-offset-2 outline-cobalt' : ''} ${row === here ? 'group-focus-visible:outline group-focus-visible:outline-2 group-focus-visible:-outline-offset-2 group-focus-visible:outline-madder' : ''}`}
                style={{ top: start, height: ROW, paddingLeft: 12 + (search || filter !== 'all' ? 0 : depth * 12) }}
                title={part.path}
                onClick={(e) => click(e, row)}
                onContextMenu={menuOf(part.name, () => partActions(part.path, effective))}
                onDragOver={(e) => {
                  if (!hasDraggedMaterial(e)) return;
                  e.preventDefault();
                  setUnder(part.path);
                }}
                onDragLeave={() => setUnder(null)}
                onDrop={(e) => {
                  e.preventDefault();
                  setUnder(null);
                  const material = droppedMaterial(e);
                  if (material) onDrop(part.path, material);
                }}
              >
                <span className={`truncate ${part.triangles === 0 ? 'font-medium' : ''}`}>{part.name}</span>
                <span className="min-w-0 flex-1 truncate text-xs text-graphite">
                  {part.lines
                    ? LABELS.lineSegments(part.lines.toLocaleString('en'))
                    : [...new Set(part.materials.map((own, k) => effective.materials[k] ?? own))].join(', ')}
                </span>
                {effective.renderVisible !== effective.viewportVisible && part.triangles > 0 && (
                  <span className="shrink-0 text-xs text-ochre">{LABELS.mixed}</span>
                )}
                <Square
                  word={LABELS.viewportSwitch}
                  name={part.name}
                  on={effective.viewportVisible}
                  onChange={(on) => onSwitch(part.path, 'viewportVisible', on)}
                />
                <Square
                  word={LABELS.renderSwitch}
                  name={part.name}
                  on={effective.renderVisible}
                  onChange={(on) => onSwitch(part.path, 'renderVisible', on)}
                />
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

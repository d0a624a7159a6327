/** How rows of the part tree are reached and selected: by click, and by key. */
import { type KeyboardEvent, type MouseEvent, useRef, useState } from 'react';
import type { TreeRow } from './usePartRows.js';

interface PartKeysProps {
  rows: TreeRow[];
  selected: ReadonlySet<string>;
  onSelect: (paths: Set<string>) => void;
  onSwitch: (path: string, which: 'viewportVisible' | 'renderVisible', on: boolean) => void;
  /** Rows that a page key passes. */
  page(): number;
  /** Brings a row into sight. */
  show(row: number): void;
}

/** The row that keys act on, and what a key or a click does. */
export interface PartKeys {
  here: number;
  press(e: KeyboardEvent): void;
  click(e: MouseEvent, row: number): void;
}

/** Arrows go along the rows, with Shift they extend what is selected, with Ctrl they leave it; Space and Enter select. */
export function usePartKeys({ rows, selected, onSelect, onSwitch, page, show }: PartKeysProps): PartKeys {
  const [active, setActive] = useState<string | null>(null);
  const anchor = useRef<number | null>(null);
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
    const above = (): number => rows.slice(0, here).findLastIndex((r) => r.depth < depth);
    const below = (rows[here + 1]?.depth ?? -1) > depth ? here + 1 : here;
    const to: Record<string, number> = {
      ArrowDown: here + 1,
      ArrowUp: here - 1,
      PageDown: here + page(),
      PageUp: here - page(),
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
      show(next);
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
  return { here, press, click };
}

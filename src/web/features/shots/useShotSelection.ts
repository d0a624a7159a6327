/** Which shots are listed, selected together, and which one is edited. */
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { kindOf, type Shot, shotName } from '../../../core/shots/kinds.js';

/** Whether a word is in a shot's name, kind or group. */
function matches(shot: Shot, filter: string): boolean {
  const words = [shotName(shot), kindOf(shot).label, shot.group ?? '', shot.off ? 'off' : ''].join(' ').toLowerCase();
  return words.includes(filter.toLowerCase());
}

/** Which shots are listed, edited and marked. */
export interface ShotSelection {
  /** Shots that the filter leaves. */
  listed: Shot[];
  /** The one that is edited; undefined where there is none. */
  selected: Shot | undefined;
  /** Shots that are changed together. */
  together: Shot[];
  marked: ReadonlySet<string>;
  filter: string;
  setFilter: (text: string) => void;
  /** Edits one shot from now on. */
  edit: (id: string) => void;
  /** A click on a row: alone, with Ctrl, or with Shift. */
  select: (id: string, how: 'alone' | 'more' | 'range') => void;
  clear: () => void;
}

/** The selection; the shot that is edited stands in the address. */
export function useShotSelection(shots: readonly Shot[]): ShotSelection {
  const [query, setQuery] = useSearchParams();
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const [filter, setFilter] = useState('');
  const listed = shots.filter((s) => filter === '' || matches(s, filter));
  const selected = shots.find((s) => s.id === query.get('shot')) ?? shots[0];
  const edit = (id: string): void => setQuery({ shot: id });
  const select: ShotSelection['select'] = (id, how) => {
    const [from, to] = [selected?.id, id].map((x) => listed.findIndex((s) => s.id === x)).sort((a, b) => a - b) as [number, number];
    if (how === 'alone') setMarked(new Set());
    else if (how === 'range') setMarked(new Set([...marked, ...listed.slice(Math.max(0, from), to + 1).map((s) => s.id)]));
    else {
      const next = new Set(marked.size === 0 && selected ? [selected.id] : marked);
      if (!next.delete(id)) next.add(id);
      setMarked(next);
    }
    if (how !== 'range') edit(id);
  };
  return {
    listed,
    selected,
    together: shots.filter((s) => marked.has(s.id)),
    marked,
    filter,
    setFilter,
    edit,
    select,
    clear: () => setMarked(new Set()),
  };
}

import type { ReactNode } from 'react';
import { LABELS } from './words.js';

const LISTS = [
  ['parts', LABELS.parts],
  ['place', LABELS.position],
  ['schedule', LABELS.materialSchedule],
  ['changes', LABELS.changes],
] as const;

/** What the side of the Model step lists. */
export type ModelList = (typeof LISTS)[number][0];

/** The list of this id; undefined where there is none. */
export const modelList = (id: string | null): ModelList | undefined => LISTS.find(([known]) => known === id)?.[0];

/** Chooses what the side of the Model step lists; changes only where there is an earlier revision. */
export function ListSwitch(props: { list: ModelList; later: boolean; onChoose(list: ModelList): void }): ReactNode {
  const { list, later, onChoose } = props;
  return (
    <div className="flex gap-4 border-b border-rule px-4 text-sm" role="group" aria-label={LABELS.list}>
      {LISTS.filter(([id]) => id !== 'changes' || later).map(([id, label]) => (
        <button
          key={id}
          type="button"
          aria-pressed={list === id}
          className={`border-b-2 py-1.5 ${list === id ? 'border-madder font-semibold' : 'border-transparent text-graphite'}`}
          onClick={() => onChoose(id)}
        >
          {label}
        </button>
      ))}
    </div>
  );
}

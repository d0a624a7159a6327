/** Reels of the set, made of the batch that is looked at. */
import type { ReactNode } from 'react';
import type { Reel } from '../../../core/plan/reel.js';
import { LABELS } from './words.js';

/** The set's reels. */
export function ReelList({ reels, shown, onReel }: { reels: readonly Reel[]; shown: string | undefined; onReel: (id: string) => void }): ReactNode {
  if (reels.length === 0) return null;
  return (
    <section className="max-h-40 shrink-0 overflow-auto border-t border-ink" aria-label={LABELS.reels}>
      <h2 className="px-4 pt-2 font-head text-xs font-medium text-graphite">{LABELS.reels}</h2>
      {reels.map((r) => (
        <button
          key={r.id}
          type="button"
          aria-pressed={r.id === shown}
          className={`block w-full truncate px-4 py-1.5 text-left ${r.id === shown ? 'bg-paper font-medium' : ''}`}
          onClick={() => onReel(r.id)}
        >
          {r.name}
        </button>
      ))}
    </section>
  );
}

/** All renders of the page, each with how many notes are on it. */
import type { ReactNode } from 'react';
import type { PageShot, ReviewPageContent } from '../../contract/reviewPages.js';
import { LABELS, MESSAGES } from './words.js';
import { notesOn } from './notesOn.js';

const day = (iso: string): string => new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' });

function ShotCard({ shot, notes, onOpen }: { shot: PageShot; notes: number; onOpen: () => void }): ReactNode {
  const facts = [shot.label, ...(shot.moving ? [LABELS.frameCount(shot.frames.length)] : []), ...(notes > 0 ? [LABELS.noteCount(notes)] : [])];
  return (
    <button type="button" onClick={onOpen} className="flex flex-col text-left">
      <img src={shot.frames[0]!.small} alt="" loading="lazy" className="aspect-video w-full bg-mount object-contain" />
      <span className="mt-2 font-semibold">{shot.name}</span>
      <span className="text-sm text-graphite">{facts.filter(Boolean).join(' · ')}</span>
    </button>
  );
}

/** All shots of the page. */
export function ShotList({ content, onOpen }: { content: ReviewPageContent; onOpen: (key: string) => void }): ReactNode {
  return (
    <main className="min-h-0 flex-1 overflow-auto">
      <header className="border-b border-rule bg-chalk px-4 py-3">
        <h1 className="font-head text-lg font-semibold">{content.name}</h1>
        <p className="text-sm text-graphite">
          {content.project} · {content.set} · {content.ends === null ? MESSAGES.madeOn(day(content.made)) : MESSAGES.until(day(content.ends))}
        </p>
      </header>
      <ul aria-label={LABELS.renders} className="grid gap-x-4 gap-y-6 p-4 sm:grid-cols-2 lg:grid-cols-3 xl:grid-cols-4">
        {content.shots.map((shot) => (
          <li key={shot.key} className="flex flex-col">
            <ShotCard shot={shot} notes={notesOn(shot, content.notes).length} onOpen={() => onOpen(shot.key)} />
          </li>
        ))}
      </ul>
    </main>
  );
}

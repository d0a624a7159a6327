/** What a start would render and what is there already, with the reasons, and frames chosen by what became of them. */
import { type ReactNode, useMemo } from 'react';
import type { ChangesReply } from '../../../contract/changes.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { SELECTION_WORDS, type SelectionWord, selectFrames, type WordNumbers } from '../../../core/plan/selection.js';
import { useWorkspace } from '../../app/workspace.js';
import { useChanges } from '../../state/queries.js';
import { Button } from '../../ui/controls.js';
import type { StartOptions } from './startOptions.js';
import { LABELS, MESSAGES } from './startWords.js';

/** What a start would render, of the plan or of its draft; asked anew after an edit and when batches of the set end. */
export function useFrameChanges({ draft }: Pick<StartOptions, 'draft'>): ChangesReply | undefined {
  const { setId, revision, plan, batches } = useWorkspace();
  const own = batches.filter((b) => b.setId === setId);
  // Before the first render of a project there is nothing to be reused, and nothing stale.
  const known = batches.some((b) => b.done > 0 || b.failed > 0) ? revision?.id : undefined;
  const stamp = `${plan!.version} ${own.map((b) => `${b.id}${b.state}${b.failed}`).join()}`;
  return useChanges(setId, known, draft, stamp).data;
}

/** Frame numbers of each run that the words of a selection stand for. */
export function useSelectionWords(changes: ChangesReply | undefined): ReadonlyMap<string, WordNumbers> | undefined {
  return useMemo(() => {
    if (!changes) return undefined;
    const numbers = (text: string): number[] => {
      if (text === '') return [];
      // A range's text names its numbers: those up to its highest are all that it can name.
      const highest = Math.max(...[...text.matchAll(/\d+/g)].map(([n]) => Number(n)));
      return selectFrames(
        text,
        Array.from({ length: highest + 1 }, (_, i) => i),
      );
    };
    return new Map(
      changes.runs.map(({ run, words }) => [run, Object.fromEntries(SELECTION_WORDS.map((w) => [w, numbers(words[w])])) as unknown as WordNumbers]),
    );
  }, [changes]);
}

/** One line: what is rendered and what is taken over; and why what is there is stale. */
export function ChangesSummary({ changes }: { changes: ChangesReply }): ReactNode {
  const { toRender, toDevelop, takenOver, reasons } = changes;
  return (
    <div className="text-sm">
      <p>
        {takenOver + toDevelop === 0
          ? MESSAGES.allRendered(pluralize(toRender, 'frame'))
          : MESSAGES.someThere(pluralize(toRender, 'frame'), toDevelop, takenOver)}
      </p>
      {reasons.map(({ grounds, frames }) => (
        <p key={grounds.join()} className="text-graphite">
          {grounds.length > 0 ? MESSAGES.stale(pluralize(frames, 'frame'), grounds.join(', ')) : MESSAGES.staleUnknown(pluralize(frames, 'frame'))}
        </p>
      ))}
    </div>
  );
}

const NAMES: Record<SelectionWord, string> = {
  missing: LABELS.missing,
  failed: LABELS.failed,
  stale: LABELS.stale,
  'not accepted': LABELS.notAccepted,
};

/** A button for each word, with its count. */
export function WordButtons({ changes, onWord }: { changes: ChangesReply; onWord: (word: SelectionWord) => void }): ReactNode {
  return (
    <div className="flex flex-wrap gap-2">
      {SELECTION_WORDS.map((word) => (
        <Button key={word} disabled={changes.counts[word] === 0} onClick={() => onWord(word)}>
          {NAMES[word]} <span className="num text-graphite">{changes.counts[word]}</span>
        </Button>
      ))}
    </div>
  );
}

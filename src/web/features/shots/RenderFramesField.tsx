/** Which frames the next batch renders: of all shots alike, or of each its own. */
import type { ReactNode } from 'react';
import { ListFilter } from 'lucide-react';
import { Popover } from 'radix-ui';
import type { ChangesReply } from '../../../contract/changes.js';
import type { Frame } from '../../../core/frame/frame.js';
import { ALL_FRAMES, formatSelections, parseSelections, selectPlannedFrames } from '../../../core/plan/selection.js';
import type { Shot } from '../../../core/shots/kinds.js';
import { Button, TextField } from '../../ui/controls.js';
import { ChangesSummary, useSelectionWords, WordButtons } from './FrameChanges.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Which frames are rendered, and of what. */
export interface RenderFramesProps {
  shots: Shot[];
  frames: Frame[];
  /** The selection, as core/plan/selection.ts reads it. */
  value: string;
  onValue: (select: string) => void;
  /** What became of the frames so far; undefined until it is known. */
  changes: ChangesReply | undefined;
}

type Words = ReturnType<typeof useSelectionWords>;

/** Frames that a selection chooses; none where the plan has changed under it. */
function countOf(frames: Frame[], select: string, words: Words): number {
  try {
    return selectPlannedFrames(frames, select, words).length;
  } catch {
    return 0;
  }
}

/** What is wrong with a selection, or null. */
function selectionProblem(frames: Frame[], select: string, words: Words): string | null {
  try {
    selectPlannedFrames(frames, select, words);
    return null;
  } catch (e) {
    return (e as Error).message;
  }
}

/** A field for each shot; one that says what the others say has no selection of its own. */
function SelectionsByShot({ shots, frames, value, onValue, words }: RenderFramesProps & { words: Words }): ReactNode {
  const { others, shots: own } = parseSelections(value);
  const put = (shot: string, typed: string): string | null => {
    const next = new Map(own);
    if (typed.trim() === '' || typed.trim() === others) next.delete(shot);
    else next.set(shot, typed.trim());
    const select = formatSelections({ others, shots: next });
    const problem = selectionProblem(frames, select, words);
    if (!problem) onValue(select);
    return problem;
  };
  return (
    <>
      <div className="grid max-h-80 grid-cols-2 gap-x-4 gap-y-2 overflow-auto">
        {shots
          .filter((s) => !s.off)
          .map((s) => (
            <TextField
              key={s.id}
              label={s.name ?? s.id}
              help={HELP.framesOfShot}
              mono
              value={own.get(s.id) ?? others}
              onValue={(typed) => put(s.id, typed)}
            />
          ))}
      </div>
      <Button disabled={value === ALL_FRAMES} onClick={() => onValue(ALL_FRAMES)}>
        {LABELS.allFrames}
      </Button>
    </>
  );
}

/** The frames that a batch renders, typed or by a word. */
export function RenderFramesField(props: RenderFramesProps): ReactNode {
  const { frames, value, onValue, changes } = props;
  const words = useSelectionWords(changes);
  return (
    <div className="flex items-end gap-1">
      <TextField
        label={value === ALL_FRAMES ? LABELS.renderFrames : MESSAGES.renderFramesOf(countOf(frames, value, words), frames.length)}
        help={HELP.all}
        mono
        value={value}
        onValue={(typed) => {
          const select = typed.trim() || ALL_FRAMES;
          const problem = selectionProblem(frames, select, words);
          if (!problem) onValue(select);
          return problem;
        }}
      />
      <Popover.Root>
        <Popover.Trigger className="h-7 shrink-0 px-1 text-cobalt" aria-label={LABELS.framesByShot} title={HELP.framesByShot}>
          <ListFilter size={16} aria-hidden />
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content align="end" sideOffset={4} className="z-40 flex w-96 flex-col gap-3 border border-graphite bg-chalk p-3">
            {changes && (
              <>
                <ChangesSummary changes={changes} />
                <WordButtons changes={changes} onWord={onValue} />
              </>
            )}
            <SelectionsByShot {...props} words={words} />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </div>
  );
}

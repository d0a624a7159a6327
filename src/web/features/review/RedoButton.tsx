/** The redo list as a batch, in one click. */
import { type ReactNode, useState } from 'react';
import { useNavigate } from 'react-router';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import type { ResultReply } from '../../../contract/results.js';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import { ALL_FRAMES, formatRanges, formatSelections, NO_FRAMES } from '../../../core/plan/selection.js';
import { redoList } from '../../../core/review/wall.js';
import { isMoving } from '../../../core/shots/kinds.js';
import { useWorkspace } from '../../app/workspace.js';
import { get, send } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button } from '../../ui/controls.js';
import { HELP, LABELS } from './words.js';

/** Frames that are to be done again, as a selection: of stills just those; of a moving shot all, of which what did not change is reused. */
async function selectionOf(list: readonly ResultReply[]): Promise<string> {
  const numbers = new Map<string, Set<number>>();
  for (const r of list.filter((own) => !isMoving(own.kind))) {
    const frames = await get<FrameReply[]>(`/batches/${r.batch}/frames?limit=5000&run=${encodeURIComponent(r.run)}`);
    const shot = shotIdOfOutput(r.run);
    const own = numbers.get(shot) ?? new Set();
    numbers.set(shot, own);
    for (const f of frames) if (f.id === r.cover) own.add(f.number);
  }
  const moving = list.filter((r) => isMoving(r.kind)).map((r) => [shotIdOfOutput(r.run), ALL_FRAMES] as const);
  const still = [...numbers].map(([shot, own]) => [shot, formatRanges([...own].sort((a, b) => a - b))] as const);
  return formatSelections({ others: NO_FRAMES, shots: new Map([...still, ...moving]) });
}

/** Starts a batch of all frames that are asked for again. */
export function RedoButton({ results }: { results: readonly ResultReply[] }): ReactNode {
  const { project, setId, revision, plan } = useWorkspace();
  const navigate = useNavigate();
  const [busy, setBusy] = useState(false);
  const list = redoList(results);
  const count = list.reduce((n, r) => n + r.redo, 0);
  if (count === 0 || !revision) return null;
  const start = async (): Promise<void> => {
    setBusy(true);
    try {
      await plan?.flush();
      let first: BatchReply | undefined;
      for (const variant of new Set(list.map((r) => r.variant))) {
        const own = list.filter((r) => r.variant === variant);
        const batch = await send<BatchReply>('POST', `/sets/${setId}/batches`, {
          revision: revision.id,
          ...(variant !== undefined && { variant }),
          shots: [...new Set(own.map((r) => shotIdOfOutput(r.run)))],
          select: await selectionOf(own),
        });
        first ??= batch;
      }
      void navigate(`/p/${project.id}/s/${setId}/batch?batch=${first!.id}`);
    } catch (e) {
      toastProblem((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Button primary disabled={busy} title={HELP.renderRedos} onClick={() => void start()}>
      {LABELS.renderRedos(count)}
    </Button>
  );
}

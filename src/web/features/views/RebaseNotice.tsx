/** Says that the set refers to bounds of another revision, and lays it anew on this one when that is asked for. */
import type { ReactNode } from 'react';
import type { Bounds } from '../../../core/math/bounds.js';
import { type Rebase, rebaseProposal, rebaseSet } from '../../../core/edit/rebase.js';
import { useWorkspace } from '../../app/workspace.js';
import { Button } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './toolWords.js';
import { toast } from '../../state/toast.js';

function words({ moved, grown, lowest }: Rebase): string {
  const parts = [MESSAGES.itsCentreMovesBy((1000 * moved).toFixed(1))];
  if (Math.abs(grown) > 5e-4) parts.push(MESSAGES.itIs((100 * Math.abs(grown)).toFixed(1), grown > 0 ? 'larger' : 'smaller'));
  if (Math.abs(lowest) > 1e-5) parts.push(MESSAGES.itsBaseIsMm((1000 * Math.abs(lowest)).toFixed(1), lowest > 0 ? 'higher' : 'lower'));
  return parts.join(', ');
}

/** Says that the revision has other bounds than the set's reference. */
export function RebaseNotice({ bounds }: { bounds: Bounds }): ReactNode {
  const { plan, revision } = useWorkspace();
  const { file, edit } = plan!;
  const refit = rebaseProposal(file, bounds);
  if (!refit) return null;
  const act = (views: boolean): void => {
    const problem = edit((f) => rebaseSet(f, bounds, views));
    if (problem) toast.error(problem);
    else
      toast(
        MESSAGES.theSetIsNow(revision!.letter, words(refit)) +
          (refit.pivots.length > 0 ? MESSAGES.movedWithIt(refit.pivots.join(', ')) : '') +
          (views && refit.views.length > 0 ? MESSAGES.fittedAgain(refit.views.join(', ')) : ''),
        { duration: 12_000 },
      );
  };
  return (
    <section className="flex flex-col gap-2 border-t border-rule pt-3 text-sm" aria-label={LABELS.referenceBounds}>
      <p>{MESSAGES.theSetKeepsThe(revision!.letter, words(refit))}</p>
      <div className="flex flex-wrap gap-2">
        <Button className="!h-6 !px-2 text-xs" onClick={() => act(false)} title={HELP.movesPivotsLightsAnd}>
          {LABELS.rebaseSet}
        </Button>
        <Button className="!h-6 !px-2 text-xs" onClick={() => act(true)} title={HELP.alsoFitsUnlockedViews}>
          {LABELS.rebaseWithViews}
        </Button>
      </div>
    </section>
  );
}

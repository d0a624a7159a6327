/** Says that the set refers to bounds of another revision, and lays it anew on this one when that is asked for. */
import { type ReactNode } from 'react';
import { toast } from 'sonner';
import { type Bounds } from '../../../core/math/bounds.js';
import { type Rebase, rebaseProposal, rebaseSet } from '../../../core/edit/rebase.js';
import { useWorkspace } from '../../app/workspace.js';
import { Button } from '../../ui/controls.js';

function words({ moved, grown, lowest }: Rebase): string {
  const parts = [`its middle moves by ${(1000 * moved).toFixed(1)} mm`];
  if (Math.abs(grown) > 5e-4) parts.push(`it is ${(100 * Math.abs(grown)).toFixed(1)} % ${grown > 0 ? 'larger' : 'smaller'}`);
  if (Math.abs(lowest) > 1e-5) parts.push(`its foot is ${(1000 * Math.abs(lowest)).toFixed(1)} mm ${lowest > 0 ? 'higher' : 'lower'}`);
  return parts.join(', ');
}

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
        `The set stands on revision ${revision!.letter} now: ${words(refit)}.` +
          (refit.pivots.length > 0 ? ` Moved with it: ${refit.pivots.join(', ')}.` : '') +
          (views && refit.views.length > 0 ? ` Fitted anew: ${refit.views.join(', ')}.` : ''),
        { duration: 12_000 },
      );
  };
  return (
    <section className="flex flex-col gap-2 border-t border-rule pt-3 text-sm" aria-label="Reference bounds">
      <p>
        The set holds on to the bounds that it was planned on. On revision {revision!.letter} {words(refit)}; views and pivots stay where they are.
      </p>
      <div className="flex flex-wrap gap-2">
        <Button className="!h-6 !px-2 text-xs" onClick={() => act(false)} title="Pivots, lamps and the stage follow the model; views stay">
          Refit the set
        </Button>
        <Button className="!h-6 !px-2 text-xs" onClick={() => act(true)} title="Unlocked views are fitted anew, too">
          Refit with its views
        </Button>
      </div>
    </section>
  );
}

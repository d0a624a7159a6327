/** Says before anything renders that movies cannot have the sizes of moving shots, and makes these even. */
import type { ReactNode } from 'react';
import { oddMovieSizes, withEvenMovieSizes } from '../../../core/movie/movieSizes.js';
import { useWorkspace } from '../../app/workspace.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button } from '../../ui/controls.js';
import { LABELS, MESSAGES } from './words.js';

/** Sizes that are named; more are counted. */
const MAX_NAMED = 3;

/** Says which sizes most movies refuse, and mends them. */
export function OddSizesNotice(): ReactNode {
  const { plan } = useWorkspace();
  const { file, edit } = plan!;
  const odd = oddMovieSizes(file);
  if (odd.length === 0) return null;
  const named = odd.slice(0, MAX_NAMED).map(({ name, size }) => `${name} ${size.width} × ${size.height}`);
  return (
    <p role="alert" className="flex shrink-0 items-center gap-4 border-b border-rule px-[18px] py-1.5 text-ochre">
      <span className="min-w-0">{MESSAGES.moviesNeedEvenSizes(named.join(', '), odd.length - named.length)}</span>
      <Button className="ml-auto shrink-0" onClick={() => toastProblem(edit(withEvenMovieSizes))}>
        {LABELS.makeSizesEven}
      </Button>
    </p>
  );
}

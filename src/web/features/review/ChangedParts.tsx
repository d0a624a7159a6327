/** Parts that changed between the first two renders, by name, with the way to each. */
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { ComparisonReply } from '../../../contract/results.js';
import { useComparison } from '../../state/compare.js';
import { LABELS, MESSAGES, PRESENCE_WORDS } from './words.js';

/** Parts that are named. */
const MAX_NAMED = 6;

const nameOf = (path: string): string => path.split('/').at(-1)!;

/** `Lid 3.1 %`, and whether it is in one of them alone. */
export function partText({ path, share, presence }: ComparisonReply['parts'][number]): string {
  return `${nameOf(path)} ${(100 * share).toFixed(share < 0.001 ? 2 : 1)} %${presence === 'both' ? '' : `, ${PRESENCE_WORDS[presence]}`}`;
}

/** Parts that look different in the second render, by name. */
export function ChangedParts({ first, second, threshold, base }: { first: number; second: number; threshold: number; base: string }): ReactNode {
  const { data, error } = useComparison({ first, second, threshold });
  if (error) return null;
  return (
    <p className="w-full text-sm" data-testid="changed-parts">
      <span className="text-graphite">{LABELS.changedParts} </span>
      {!data && <span className="text-graphite">{MESSAGES.comparing}</span>}
      {data?.parts.length === 0 && MESSAGES.noPartChanged}
      {data?.parts.slice(0, MAX_NAMED).map((part, i) => (
        <span key={part.path}>
          {i > 0 && ' · '}
          <Link to={`${base}/model?part=${encodeURIComponent(nameOf(part.path))}`} className="text-cobalt underline" title={part.path}>
            {partText(part)}
          </Link>
        </span>
      ))}
      {data && data.parts.length > MAX_NAMED && <span className="text-graphite"> {LABELS.more(data.parts.length - MAX_NAMED)}</span>}
    </p>
  );
}

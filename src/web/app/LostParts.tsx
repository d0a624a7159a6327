/** Says on every step that the set names parts which this revision does not have, and leads to where they are remapped. */
import { type ReactNode, useMemo } from 'react';
import { Link } from 'react-router';
import { missingPartPaths, namedPaths } from '../../core/edit/remapParts.js';
import { useParts } from '../state/queries.js';
import { LABELS, MESSAGES } from './words.js';
import { useWorkspace } from './workspace.js';

/** Parts that are named; more are counted. */
const MAX_NAMED = 3;

/** Parts that the set names and this revision lacks, each to be mapped by hand. */
export function LostParts(): ReactNode {
  const { project, setId, revision, plan } = useWorkspace();
  const { file } = plan!;
  const named = useMemo(() => namedPaths(file), [file]);
  // The parts are asked for only where the set names some.
  const { data: parts } = useParts(named.length > 0 ? revision?.id : undefined);
  const lost = useMemo(() => (parts ? missingPartPaths(file, new Set(parts.map((p) => p.path))) : []), [file, parts]);
  if (lost.length === 0 || !revision) return null;
  const names = `${lost.slice(0, MAX_NAMED).join(', ')}${lost.length > MAX_NAMED ? MESSAGES.andMore(lost.length - MAX_NAMED) : ''}`;
  return (
    <p role="status" className="flex shrink-0 items-center gap-4 border-b border-ochre bg-chalk px-[18px] py-1.5 text-ochre">
      <span className="min-w-0 truncate" title={lost.join(', ')}>
        {MESSAGES.partsNotInRevision(revision.letter, names)}
      </span>
      <Link className="ml-auto shrink-0 underline" to={`/p/${project.id}/s/${setId}/model?list=changes`}>
        {LABELS.remapParts}
      </Link>
    </p>
  );
}

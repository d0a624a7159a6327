/** What a shot is to show whole, for the checks before the run. */
import type { ReactNode } from 'react';
import { kindOf, type Shot } from '../../../core/shots/kinds.js';
import { useWorkspace } from '../../app/workspace.js';
import { useParts } from '../../state/queries.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Select } from '../../ui/controls.js';
import { HELP, LABELS } from './words.js';

/** No path of a part is written like these. */
const AS_KIND = '/';
const SEVERAL = '//';
/** Parts that are offered: those at the top, and what hangs below them while the list stays short. */
const MAX_OFFERED = 80;

/** What a shot is about. */
export function SubjectField({ shot, put }: { shot: Shot; put: (next: Shot) => string | null }): ReactNode {
  const { revision } = useWorkspace();
  const { data: parts = [] } = useParts(revision?.id);
  const depth = (path: string): number => path.split('/').length;
  const solid = parts.filter((p) => p.lines === undefined);
  const two = solid.filter((p) => depth(p.path) <= 2);
  const offered = two.length <= MAX_OFFERED ? two : solid.filter((p) => depth(p.path) === 1).slice(0, MAX_OFFERED);
  const { subject } = shot;
  const paths = Array.isArray(subject) ? subject : [];
  const value = subject === undefined ? AS_KIND : typeof subject === 'string' ? `${SEVERAL}${subject}` : paths.length === 1 ? paths[0]! : SEVERAL;
  return (
    <Select
      label={LABELS.subject}
      help={HELP.subject}
      value={value}
      options={[
        { value: AS_KIND, label: kindOf(shot).movesThrough ? LABELS.subjectNone : LABELS.subjectModel },
        {
          value: kindOf(shot).movesThrough ? `${SEVERAL}model` : `${SEVERAL}none`,
          label: kindOf(shot).movesThrough ? LABELS.subjectModel : LABELS.subjectNone,
        },
        ...(subject === (kindOf(shot).movesThrough ? 'none' : 'model') ? [{ value, label: LABELS.subjectSaid }] : []),
        ...(paths.length > 1 ? [{ value: SEVERAL, label: LABELS.subjectParts(paths.length) }] : []),
        ...paths.filter((p) => paths.length === 1 && !offered.some((o) => o.path === p)).map((p) => ({ value: p, label: p })),
        ...offered.map((p) => ({ value: p.path, label: p.path })),
      ]}
      onValue={(v) => {
        if (v === SEVERAL) return;
        const next = v === AS_KIND ? undefined : v.startsWith(SEVERAL) ? (v.slice(SEVERAL.length) as 'model' | 'none') : [v];
        toastProblem(put({ ...shot, subject: next }));
      }}
    />
  );
}

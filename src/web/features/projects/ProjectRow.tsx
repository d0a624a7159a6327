/** A project in the list: its picture, its figures, and what can be done with it. */
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import type { ProjectReply } from '../../../contract/contract.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { metres } from '../../app/format.js';
import { deleteProject, duplicateProject, renameProject } from '../../state/places.js';
import { toastProblem } from '../../state/toastProblem.js';
import { ActionsMenu } from '../../ui/ActionsMenu.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { TextField } from '../../ui/controls.js';
import { Cover } from './Cover.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const attempt = (act: Promise<unknown>): void => void act.catch((e: Error) => toastProblem(e.message));

/** What can be done with a project, by its button and by a right click. */
const projectActions = (project: ProjectReply, onRename: () => void): MenuAction[] => [
  { label: LABELS.rename, run: onRename },
  { label: LABELS.duplicate, run: () => attempt(duplicateProject(project.id)) },
  { label: LABELS.delete, run: () => attempt(deleteProject(project)) },
];

/** A project in the list. */
export function ProjectRow({ project }: { project: ProjectReply }): ReactNode {
  const [renaming, setRenaming] = useState(false);
  const revision = project.revisions.at(-1);
  if (renaming) {
    return (
      <li
        className="border-b border-rule py-3"
        ref={(el) => el?.querySelector('input')?.focus()}
        onBlur={() => setRenaming(false)}
        onKeyDownCapture={(e) => e.key === 'Escape' && setRenaming(false)}
      >
        <TextField
          label={LABELS.projectName}
          help={HELP.projectName}
          value={project.name}
          onValue={(typed) => {
            const name = typed.trim();
            if (name === '') return MESSAGES.giveAName;
            attempt(renameProject(project.id, name));
            setRenaming(false);
            return null;
          }}
        />
      </li>
    );
  }
  const actions = projectActions(project, () => setRenaming(true));
  return (
    <li className="flex items-center border-b border-rule" onContextMenu={menuOf(project.name, () => actions)}>
      <Link to={`/p/${project.id}`} className="flex min-w-0 flex-1 items-center gap-5 py-3 hover:bg-chalk">
        <Cover project={project} />
        <span className="min-w-0 flex-1">
          <span className="block font-semibold">{project.name}</span>
          <span className="block text-sm text-graphite">{revision ? LABELS.revision(revision.fileName, revision.letter) : LABELS.noModelYet}</span>
          {project.sets
            .filter((s) => s.problem !== undefined)
            .map((s) => (
              <span key={s.id} className="block text-sm text-ochre" title={s.problem}>
                {MESSAGES.theSetCannotBe(s.name)}
              </span>
            ))}
        </span>
        {revision && (
          <span className="num text-right text-sm text-graphite">
            {MESSAGES.partsTriangles(revision.partCount, revision.triangles.toLocaleString('en'))}
            <br />
            {metres(revision.bounds)}
          </span>
        )}
        <span className="num w-48 text-right text-sm text-graphite">
          {pluralize(project.sets.length, 'set')} ·{' '}
          {pluralize(
            project.sets.reduce((n, s) => n + s.frames, 0),
            'frame',
          )}
          <br />
          {pluralize(project.batches, 'batch', 'batches')}
        </span>
      </Link>
      <ActionsMenu label={LABELS.actionsOf(project.name)} actions={actions} />
    </li>
  );
}

/** What came over of a model's file, and what did not. */
import { Fragment, type ReactNode } from 'react';
import type { ProjectReply, RevisionReply } from '../../../contract/contract.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { EXT_WITH_UNITS, NOT_STATED } from '../../../core/model/fileExtensions.js';
import { deleteRevision, restoreRevision } from '../../state/places.js';
import { toastProblem } from '../../state/toastProblem.js';
import { endsIn } from './endsIn.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Takes the revision away where another is left, and brings deleted ones back. */
function RevisionActions({ project, revision }: { project: ProjectReply; revision: RevisionReply }): ReactNode {
  const attempt = (action: Promise<void>): void => void action.catch((e: Error) => toastProblem(e.message));
  return (
    <>
      {project.revisions.length > 1 && (
        <>
          {' · '}
          <button type="button" className="underline" title={HELP.deleteRevision} onClick={() => attempt(deleteRevision(project.id, revision))}>
            {LABELS.deleteRevision}
          </button>
        </>
      )}
      {project.deletedRevisions?.map(({ id, letter }) => (
        <Fragment key={id}>
          {' · '}
          <button type="button" className="underline" onClick={() => attempt(restoreRevision(project.id, id))}>
            {LABELS.restoreRevision(letter)}
          </button>
        </Fragment>
      ))}
    </>
  );
}

/** @param lines parts that are lines. */
export function ImportReport({ project, revision, lines }: { project: ProjectReply; revision: RevisionReply; lines: number }): ReactNode {
  return (
    <>
      <p className="num truncate border-b border-rule px-4 py-2 text-sm" title={revision.fileName}>
        {revision.fileName}
        <span className="text-graphite">
          {/* A file of a kind that states its units may leave them open: then the notes below say what was assumed. */}
          {!endsIn(revision.fileName, EXT_WITH_UNITS)
            ? ` · ${MESSAGES.readAsUp(revision.unit, revision.up.toUpperCase())}`
            : !revision.warnings.some((w) => w.startsWith(NOT_STATED)) && ` · ${MESSAGES.readAsTheFile}`}
        </span>
      </p>
      <p className="num border-b border-rule px-4 py-1 text-xs text-graphite">
        <span data-testid="imported">
          {pluralize(revision.materials.length, LABELS.partMaterials)} · {pluralize(revision.textures, LABELS.partTextures)}
          {revision.lights > 0 && ` · ${pluralize(revision.lights, LABELS.partLights)}`}
          {revision.cameras.length > 0 && ` · ${pluralize(revision.cameras.length, LABELS.partCameras)}`}
          {lines > 0 && ` · ${pluralize(lines, LABELS.linePart, LABELS.lineParts)}`}
        </span>
        {revision.originals.length > 0 && (
          <>
            {' · '}
            <a className="underline" href={`/api/revisions/${revision.id}/original`} download title={HELP.downloadsTheFileAs}>
              {LABELS.originalFile}
            </a>
          </>
        )}
        <RevisionActions project={project} revision={revision} />
      </p>
      {revision.problem && (
        <p role="alert" className="border-b border-rule px-4 py-2 text-sm text-ochre">
          {revision.problem}
        </p>
      )}
      {revision.reduced !== undefined && (
        <p className="border-b border-rule px-4 py-1 text-xs text-graphite">
          {MESSAGES.theViewportShowsA} <span className="num">{revision.reduced.toLocaleString('en')}</span> {MESSAGES.trianglesRendersUseAll}
        </p>
      )}
      {revision.warnings.length > 0 && (
        <ul className="max-h-32 overflow-auto border-b border-rule px-4 py-2 text-sm text-ochre">
          {revision.warnings.map((w) => (
            <li key={w}>{w}</li>
          ))}
        </ul>
      )}
    </>
  );
}

/** Projects that were deleted: each can be restored. */
import type { ReactNode } from 'react';
import useSWR from 'swr';
import type { ProjectReply } from '../../../contract/contract.js';
import { get } from '../../state/api.js';
import { restoreProject } from '../../state/places.js';
import { toastProblem } from '../../state/toastProblem.js';
import { LABELS } from './words.js';

/** Projects that can be restored. */
export function DeletedProjects(): ReactNode {
  const { data = [] } = useSWR<ProjectReply[], Error>('/projects?deleted', get);
  if (data.length === 0) return null;
  return (
    <details className="mt-6 text-sm text-graphite">
      <summary className="cursor-pointer">{LABELS.deletedProjects(data.length)}</summary>
      <ul className="py-2">
        {data.map((project) => (
          <li key={project.id} className="flex items-center gap-3 py-1">
            {project.name}
            <button
              type="button"
              aria-label={LABELS.restoreOne(project.name)}
              className="text-cobalt underline"
              onClick={() => void restoreProject(project.id).catch((e: Error) => toastProblem(e.message))}
            >
              {LABELS.restore}
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

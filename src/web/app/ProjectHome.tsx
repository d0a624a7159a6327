/** Leads from a project to the step that one would go on with. */
import type { ReactNode } from 'react';
import { Navigate, useParams } from 'react-router';
import { useProject } from '../state/queries.js';
import { EmptyState } from '../ui/controls.js';
import { HELP } from './words.js';

/** Leads from a project's address to a step of its first set. */
export default function ProjectHome(): ReactNode {
  const { project: id } = useParams();
  const { data, error } = useProject(Number(id));
  if (error) return <EmptyState title={HELP.thisProjectCannotBe}>{error.message}</EmptyState>;
  if (!data) return null;
  return <Navigate to={`/p/${id}/s/${data.sets[0]!.id}/${data.revisions.length > 0 ? 'shots' : 'model'}`} replace />;
}

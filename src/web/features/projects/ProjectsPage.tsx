import { type FormEvent, type ReactNode, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { ProjectReply } from '../../../contract/contract.js';
import { send } from '../../state/api.js';
import { useProjects } from '../../state/queries.js';
import { metres } from '../../app/format.js';
import { ConnectionBanner } from '../../app/ConnectionBanner.js';
import { Logo } from '../../app/Shell.js';
import { Button, EmptyState } from '../../ui/controls.js';
import { Cover } from './Cover.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** The register of design jobs. */
export function ProjectsPage(): ReactNode {
  const { data, error } = useProjects();
  const navigate = useNavigate();
  const [name, setName] = useState('');
  const create = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    try {
      const project = await send<ProjectReply>('POST', '/projects', { name });
      await navigate(`/p/${project.id}`);
    } catch (problem) {
      toast.error((problem as Error).message);
    }
  };
  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 shrink-0 items-center gap-2 border-b border-rule bg-chalk pl-4 font-semibold">
        <Logo /> {LABELS.coldEasel}
        <Link to="/access" className="ml-auto px-4 font-normal text-graphite underline">
          {LABELS.access}
        </Link>
      </header>
      <ConnectionBanner />
      <main className="mx-auto w-full max-w-5xl p-6">
        <div className="mb-4 flex items-end gap-4">
          <h1 className="text-lg font-semibold">{LABELS.projects}</h1>
          <form onSubmit={(e) => void create(e)} className="ml-auto flex items-center gap-3">
            <label className="flex items-center gap-2">
              <span className="font-head text-xs font-medium text-graphite">{LABELS.newProject}</span>
              <input
                className="h-[30px] w-64 rounded-sm border border-graphite bg-chalk px-2"
                value={name}
                placeholder={LABELS.projectName}
                onChange={(e) => setName(e.target.value)}
              />
            </label>
            <Button primary type="submit" disabled={!name.trim()}>
              {LABELS.create}
            </Button>
          </form>
        </div>
        {error && <p role="alert">{error.message}</p>}
        {data?.length === 0 && <EmptyState title={HELP.noProjectYet}>{MESSAGES.nameTheProjectAbove}</EmptyState>}
        <ul className="border-t border-rule">
          {data?.map((project) => {
            const revision = project.revisions.at(-1);
            return (
              <li key={project.id} className="border-b border-rule">
                <Link to={`/p/${project.id}`} className="flex items-center gap-5 py-3 hover:bg-chalk">
                  <Cover project={project} />
                  <span className="min-w-0 flex-1">
                    <span className="block font-semibold">{project.name}</span>
                    <span className="block text-sm text-graphite">
                      {revision ? LABELS.revision(revision.fileName, revision.letter) : LABELS.noModelYet}
                    </span>
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
              </li>
            );
          })}
        </ul>
      </main>
    </div>
  );
}

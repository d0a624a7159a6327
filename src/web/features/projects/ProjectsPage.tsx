import { fileStem } from '../../../core/model/fileExtensions.js';
import { type FormEvent, type ReactNode, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { ProjectReply } from '../../../contract/contract.js';
import { ModelDrop } from '../../app/ModelDrop.js';
import { MESSAGES as APP_MESSAGES } from '../../app/words.js';
import { handOver } from '../../state/droppedModel.js';
import { send } from '../../state/api.js';
import { useProjects } from '../../state/queries.js';
import { toast } from '../../state/toast.js';
import { ConnectionBanner } from '../../app/ConnectionBanner.js';
import { Logo } from '../../app/Logo.js';
import { Button, EmptyState } from '../../ui/controls.js';
import { DeletedProjects } from './DeletedProjects.js';
import { ProjectRow } from './ProjectRow.js';
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
  /** A model that is dropped here makes its own project, and is shown as soon as it is there. */
  const makeOf = (files: File[], model: File): void => {
    send<ProjectReply>('POST', '/projects', { name: fileStem(model.name).slice(0, 80) })
      .then((project) => {
        handOver(project.id, files);
        return navigate(`/p/${project.id}`);
      })
      .catch((problem: Error) => toast.error(problem.message));
  };
  return (
    <div className="flex h-full flex-col">
      <ModelDrop says={APP_MESSAGES.dropMakesProject} onModel={makeOf} />
      <header className="flex h-11 shrink-0 items-center gap-2 border-b border-rule bg-chalk pl-4 font-semibold">
        <Logo /> {LABELS.coldEasel}
        <Link to="/queue" className="ml-auto px-4 font-normal text-graphite underline">
          {LABELS.queue}
        </Link>
        <Link to="/access" className="px-4 font-normal text-graphite underline">
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
          {data?.map((project) => (
            <ProjectRow key={project.id} project={project} />
          ))}
        </ul>
        <DeletedProjects />
      </main>
    </div>
  );
}

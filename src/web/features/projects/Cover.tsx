import type { ReactNode } from 'react';
import useSWR from 'swr';
import type { ProjectReply, SetReply } from '../../../contract/contract.js';
import { get } from '../../state/api.js';
import { Thumbnail, thumbnailUrl } from '../../ui/Thumbnail.js';

/** The first view of a project's first set, drawn by the kernel. */
export function Cover({ project }: { project: ProjectReply }): ReactNode {
  const set = project.sets[0];
  const revision = project.revisions.at(-1);
  const { data } = useSWR<SetReply, Error>(set ? `/sets/${set.id}` : null, get);
  const view = data?.file.views[0];
  const src =
    set && revision && view ? thumbnailUrl(set.id, revision.id, { view: view.id }, `${data.content}-${revision.hash.slice(0, 16)}`, 320) : null;
  return (
    <span className="flex h-[72px] w-32 shrink-0 items-center justify-center bg-mount">
      {src && <Thumbnail src={src} alt="" className="size-full object-contain" />}
    </span>
  );
}

import type { ReactNode } from 'react';
import type { ProjectReply } from '../../../contract/contract.js';
import { Thumbnail, thumbnailUrl } from '../../ui/Thumbnail.js';

/** The first view of a project's first set, drawn by the kernel. */
export function Cover({ project }: { project: ProjectReply }): ReactNode {
  const set = project.sets[0];
  const revision = project.revisions.at(-1);
  const src =
    set?.view && revision ? thumbnailUrl(set.id, revision.id, { view: set.view }, `${set.content}-${revision.hash.slice(0, 16)}`, 320) : null;
  return (
    <span className="flex h-[72px] w-32 shrink-0 items-center justify-center bg-mount">
      {src && <Thumbnail src={src} alt="" className="size-full object-contain" />}
    </span>
  );
}

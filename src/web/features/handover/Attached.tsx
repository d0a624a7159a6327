/** A file that goes into a movie: chosen, named, taken away again, with the fields that say how it is used. */
import type { ReactNode } from 'react';
import { Button } from '../../ui/controls.js';
import { UploadButton } from '../../ui/UploadButton.js';

interface Props<T> {
  /** Where the file is sent. */
  path: string;
  accept: string;
  words: { title: string; file: string; choose: string; remove: string; none: string };
  /** Of the file; '' where there is none. */
  name: string;
  onFile: (reply: T, name: string) => void;
  onRemove: () => void;
  children: ReactNode;
}

/** A file that goes with a movie: uploaded, named, and removed. */
export function Attached<T>({ path, accept, words, name, onFile, onRemove, children }: Props<T>): ReactNode {
  return (
    <div className="flex flex-col gap-2">
      <span className="flex items-center gap-3">
        <span className="w-14 font-head font-medium">{words.title}</span>
        <UploadButton<T> path={path} accept={accept} label={words.file} onReply={onFile}>
          {words.choose}
        </UploadButton>
        <span className="min-w-0 truncate text-graphite">{name || words.none}</span>
        {name !== '' && <Button onClick={onRemove}>{words.remove}</Button>}
      </span>
      {name !== '' && <div className="grid grid-cols-4 gap-x-4">{children}</div>}
    </div>
  );
}

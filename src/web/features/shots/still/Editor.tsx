/** The editor of a still: its files by name. */
import type { InstrumentProps } from '../editorProps.js';
import type { ReactNode } from 'react';

/** Names of the files, to choose one. */
export function Names({ frames, index, onIndex }: InstrumentProps): ReactNode {
  return (
    <ol className="h-full overflow-auto text-sm">
      {frames.map((f, i) => (
        <li key={f.name}>
          <button
            type="button"
            className={`num w-full truncate px-2 py-1 text-left ${i === index ? 'bg-chalk font-medium' : 'text-graphite'}`}
            onClick={() => onIndex(i)}
          >
            {f.name}
          </button>
        </li>
      ))}
    </ol>
  );
}

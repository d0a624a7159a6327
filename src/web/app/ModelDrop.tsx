/** A model may be dropped anywhere on the page: the page says what becomes of it while it is held over it. */
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { wayRound } from '../../core/model/fileExtensions.js';
import { modelAmong } from '../state/droppedModel.js';
import { toast } from '../state/toast.js';
import { MESSAGES } from './words.js';

interface ModelDropProps {
  /** What a drop does, as a sentence. */
  says: string;
  onModel: (files: File[], model: File) => void;
}

/** Takes models that are dropped anywhere on the page. */
export function ModelDrop({ says, onModel }: ModelDropProps): ReactNode {
  const [over, setOver] = useState(false);
  const latest = useRef(onModel);
  latest.current = onModel;
  useEffect(() => {
    // Things of the page are dragged too.
    const hasFiles = (e: DragEvent): boolean => e.dataTransfer?.types.includes('Files') === true;
    const hold = (e: DragEvent): void => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      setOver(true);
    };
    const leave = (e: DragEvent): void => {
      if (e.relatedTarget === null) setOver(false);
    };
    const drop = (e: DragEvent): void => {
      setOver(false);
      // What lies under the pointer may have taken it.
      if (!hasFiles(e) || e.defaultPrevented) return;
      e.preventDefault();
      const files = [...(e.dataTransfer?.files ?? [])];
      const model = modelAmong(files);
      if (model) latest.current(files, model);
      else if (files.length > 0) {
        const names = files.map((f) => f.name);
        toast.error(wayRound(names) ?? MESSAGES.noModelAmong(names.join(', ')));
      }
    };
    window.addEventListener('dragover', hold);
    window.addEventListener('dragleave', leave);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragover', hold);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('drop', drop);
    };
  }, []);
  if (!over) return null;
  return (
    <div className="pointer-events-none fixed inset-2 z-50 flex items-center justify-center border-2 border-dashed border-madder bg-paper/85">
      <p className="text-lg font-semibold">{says}</p>
    </div>
  );
}

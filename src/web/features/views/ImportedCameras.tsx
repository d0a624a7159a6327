/** Cameras that the model's file brought, offered as views. */
import type { ReactNode } from 'react';
import type { OfferedViewReply } from '../../../contract/contract.js';
import { Button } from '../../ui/controls.js';
import { LABELS } from './words.js';

/** Cameras of the model's file, to be used as views. */
export function ImportedCameras({ cameras, onTake }: { cameras: OfferedViewReply[]; onTake: (cameras: OfferedViewReply[]) => void }): ReactNode {
  if (cameras.length === 0) return null;
  return (
    <section className="flex flex-col gap-1.5 border-t border-rule pt-3" aria-label={LABELS.importedCameras}>
      <h2 className="font-semibold">{LABELS.importedCameras}</h2>
      <ul className="flex flex-col gap-1">
        {cameras.map((camera, i) => (
          <li key={i} className="flex items-center justify-between gap-2 text-sm">
            <span className="truncate">
              {camera.name}{' '}
              <span className="num text-graphite">
                {camera.kind === 'parallel' ? `↔ ${camera.width} m` : `${Number(camera.focalLength.toFixed(1))} mm`}
              </span>
            </span>
            <button type="button" className="underline" aria-label={LABELS.import(camera.name)} onClick={() => onTake([camera])}>
              {LABELS.importCamera}
            </button>
          </li>
        ))}
      </ul>
      {cameras.length > 1 && (
        <Button className="self-start" onClick={() => onTake(cameras)}>
          {LABELS.importAll}
        </Button>
      )}
    </section>
  );
}

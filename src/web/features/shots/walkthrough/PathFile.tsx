import { type ReactNode, useRef } from 'react';
import type { View } from '../../../../core/camera/view.js';
import type { Vec3 } from '../../../../core/math/bounds.js';
import { pathCsv, readPath } from '../../../../core/shots/walkthrough/pathCsv.js';
import { walkOf } from '../../../../core/shots/walkthrough/walkthrough.js';
import type { WalkthroughShot } from '../../../../core/shots/walkthrough/walkthrough.js';
import { toast } from '../../../state/toast.js';
import { saveText } from '../../../ui/saveText.js';
import type { FieldsProps } from '../fieldsProps.js';
import { readGltfPath } from '../gltfPath.js';
import { HELP, LABELS, MESSAGES } from './words.js';
import { FileInput } from '../../../ui/FileInput.js';

/** Reads the walk's stations from a file, and writes them as one. */
export function PathFile({ shot, put, views }: FieldsProps<WalkthroughShot> & { views: View[] }): ReactNode {
  const input = useRef<HTMLInputElement>(null);
  const read = async (file: File): Promise<void> => {
    try {
      const rows = /\.(glb|gltf)$/i.test(file.name) ? await readGltfPath(await file.arrayBuffer()) : readPath(await file.text());
      const target = shot.target ?? (views[0]!.target as Vec3);
      const problem = put({ ...shot, stations: rows.map((r) => ({ hold: 0, ...r, ...(shot.look === 'stations' && { target }) })) });
      if (problem) throw new Error(problem);
    } catch (e) {
      toast.error(MESSAGES.wasNotImported(file.name, (e as Error).message));
    }
  };
  return (
    <p className="flex gap-3 text-sm">
      <button type="button" className="text-cobalt underline" title={HELP.csvWithXY} onClick={() => input.current?.click()}>
        {LABELS.importPath}
      </button>
      <button
        type="button"
        className="text-cobalt underline"
        onClick={() =>
          saveText(
            `${shot.name ?? shot.id} path.csv`,
            pathCsv(walkOf(shot, views).eyes.map((eye, i) => ({ eye, seconds: shot.stations[i]!.seconds, hold: shot.stations[i]!.hold }))),
          )
        }
      >
        {LABELS.exportCsv}
      </button>
      <FileInput input={input} accept=".csv,.tsv,.txt,.glb,.gltf" label={LABELS.pathAsCsvOr} onFile={read} />
    </p>
  );
}

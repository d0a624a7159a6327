/** The colour table of a grade: from a .cube file, and all that comes after the tone curve as one. */
import { type ReactNode, useRef } from 'react';
import { encodeTable3d } from '../../core/image/colourTable.js';
import { readCube, writeCube } from '../../core/image/cube.js';
import type { Grade } from '../../core/image/grade.js';
import { hasLook, MAX_TABLE_SIDE, tableOfLook } from '../../core/image/look.js';
import { toast } from '../state/toast.js';
import { toastProblem } from '../state/toastProblem.js';
import { Button, NumberField } from '../ui/controls.js';
import { saveText } from '../ui/saveText.js';
import { HELP, LABELS, MESSAGES } from './words.js';
import { FileInput } from '../ui/FileInput.js';

/** The colour table of a grade, as a file. */
export function ColourTableField({ grade, put }: { grade: Grade; put: (values: Partial<Grade>) => string | null }): ReactNode {
  const { table } = grade;
  const input = useRef<HTMLInputElement>(null);
  const take = async (file: File): Promise<void> => {
    try {
      const { title, table: read, reduced } = readCube(await file.text());
      const name = (title || file.name.replace(/\.cube$/i, '')).slice(0, 80);
      const problem = put({ table: { name, side: read.side, values: encodeTable3d(read), share: 1 } });
      if (problem) throw new Error(problem);
      if (reduced) toast(MESSAGES.tableReduced(file.name));
    } catch (e) {
      toastProblem(MESSAGES.fileProblem(file.name, (e as Error).message));
    }
  };
  const save = (): void => saveText('grade.cube', writeCube(table?.name ?? 'grade', tableOfLook(MAX_TABLE_SIDE, grade)));
  return (
    <div className="flex flex-col gap-2" title={HELP.colourTable}>
      <span className="flex items-baseline justify-between gap-2">
        <span>{LABELS.colourTable}</span>
        {table && <span className="truncate text-sm text-graphite">{table.name}</span>}
      </span>
      <span className="flex flex-wrap gap-2">
        <Button onClick={() => input.current?.click()}>{LABELS.importCube}</Button>
        <Button disabled={!hasLook(grade)} title={HELP.exportCube} onClick={save}>
          {LABELS.exportCube}
        </Button>
        {table && <Button onClick={() => put({ table: undefined })}>{LABELS.removeTable}</Button>}
      </span>
      {table && (
        <NumberField
          label={LABELS.tableShare}
          help={HELP.tableShare}
          value={table.share}
          step={0.1}
          decimals={2}
          onValue={(share) => put({ table: { ...table, share } })}
        />
      )}
      <FileInput input={input} accept=".cube" label={LABELS.importCube} onFile={take} />
    </div>
  );
}

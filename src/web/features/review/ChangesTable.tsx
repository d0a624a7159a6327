/** What is different between two columns of the wall, for the whole set: a table of shots by changed area. */
import { type ReactNode, useEffect, useState } from 'react';
import { Dialog, DropdownMenu } from 'radix-ui';
import { SHEET_TYPES, type SheetType } from '../../../contract/packages.js';
import { DEFAULT_THRESHOLD } from '../../../core/review/threshold.js';
import { sendForBlob } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';
import { ActionItems, MENU_PANEL } from '../../ui/ActionItems.js';
import { Button, PLAIN_BUTTON, Select } from '../../ui/controls.js';
import { saveBlob, saveText } from '../../ui/saveText.js';
import { usePrint } from '../../ui/usePrint.js';
import { partText } from './ChangedParts.js';
import { changesCsv, type RowChange, type RowPair, useChangesRun } from './changesRun.js';
import { HELP, LABELS, MESSAGES } from './words.js';

interface Props {
  setId: number;
  setName: string;
  columns: { key: string; label: string }[];
  /** Shots that both columns have. */
  pairsOf: (first: string, second: string) => RowPair[];
  onOpen: (row: RowChange) => void;
}

const HEAD = 'border-b border-ink px-2 py-1 text-left font-head font-medium';
const CELL = 'border-b border-rule px-2 py-1 align-top';

/** The rows as a table. @param nameOf what is written of a shot: a button on the page, words on paper. */
function Rows({ rows, nameOf }: { rows: readonly RowChange[]; nameOf: (row: RowChange) => ReactNode }): ReactNode {
  return (
    <table className="w-full border-collapse text-sm">
      <thead>
        <tr>
          <th className={HEAD}>{LABELS.shot}</th>
          <th className={`${HEAD} text-right`}>{LABELS.changedShare}</th>
          <th className={`${HEAD} text-right`}>SSIM</th>
          <th className={`${HEAD} text-right`}>ΔE</th>
          <th className={HEAD}>{LABELS.parts}</th>
          <th className={`${HEAD} text-right`}>{LABELS.comparedFrames}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.key}>
            <td className={CELL}>{nameOf(row)}</td>
            <td className={`${CELL} num text-right`}>{(100 * row.worst.changed).toFixed(row.worst.changed < 0.001 ? 3 : 1)}</td>
            <td className={`${CELL} num text-right`}>{row.worst.ssim.toFixed(3)}</td>
            <td className={`${CELL} num text-right`}>{row.worst.largest.toFixed(1)}</td>
            <td className={CELL}>{row.worst.parts.slice(0, 4).map(partText).join(' · ') || MESSAGES.noPartChanged}</td>
            <td className={`${CELL} num text-right text-graphite`}>{LABELS.areaOf(row.compared, row.of)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What a row is called where it is no link. */
const onPaperName = ({ name, of, frames }: RowChange): string => (of > 1 ? `${name}, ${LABELS.frameNumber(frames.number)}` : name);

/** What changed from one column of the wall to another, the most changed shot first. */
export function ChangesTable({ setId, setName, columns, pairsOf, onOpen }: Props): ReactNode {
  const [first, setFirst] = useState(columns[0]!.key);
  const [second, setSecond] = useState(columns.at(-1)!.key);
  const run = useChangesRun();
  const { rows, progress, problem, start, stop } = run;
  useEffect(() => {
    if (first !== second) start(pairsOf(first, second), DEFAULT_THRESHOLD);
    else stop();
    return stop;
  }, [first, second]);
  const { sheet, print } = usePrint();
  const [saving, setSaving] = useState(false);
  const onPaper = (): void =>
    print(
      <>
        <h1 className="mb-3 font-head text-lg font-semibold">{MESSAGES.changesTitle(setName, label(first), label(second))}</h1>
        <Rows rows={rows} nameOf={onPaperName} />
      </>,
    );
  const save = (type: SheetType): void => {
    setSaving(true);
    const shots = rows.map((row) => ({ name: onPaperName(row), first: row.frames.first, second: row.frames.second }));
    sendForBlob(`/sets/${setId}/changes-sheet`, { sides: [label(first), label(second)], threshold: DEFAULT_THRESHOLD, type, shots })
      .then(
        // Several pages of images come in one archive.
        (file) => saveBlob(`${setName} changes.${file.type === 'application/zip' ? 'zip' : type}`, file),
        (e: Error) => toastProblem(e.message),
      )
      .finally(() => setSaving(false));
  };
  const options = columns.map(({ key, label }) => ({ value: key, label }));
  const label = (key: string): string => columns.find((c) => c.key === key)!.label;
  return (
    <div className="flex max-h-[80vh] flex-col gap-3">
      {sheet}
      <Dialog.Title className="text-lg font-semibold">{LABELS.whatChanged}</Dialog.Title>
      <Dialog.Description className="text-sm text-graphite">{HELP.whatChanged}</Dialog.Description>
      <div className="flex items-end gap-4">
        <span className="w-44">
          <Select label={LABELS.from} help={HELP.changesFrom} value={first} options={options} onValue={setFirst} />
        </span>
        <span className="w-44">
          <Select label={LABELS.to} help={HELP.changesTo} value={second} options={options} onValue={setSecond} />
        </span>
        <p className="num text-sm text-graphite" data-testid="changes-progress">
          {first === second
            ? MESSAGES.chooseTwo
            : progress
              ? MESSAGES.comparingShots(progress.done, progress.total)
              : MESSAGES.shotsCompared(rows.length)}
        </p>
        {progress && <Button onClick={stop}>{LABELS.stop}</Button>}
        <span className="ml-auto flex gap-2">
          <DropdownMenu.Root>
            <DropdownMenu.Trigger className={PLAIN_BUTTON} disabled={rows.length === 0 || saving} title={HELP.saveChanges}>
              {LABELS.saveAs}
            </DropdownMenu.Trigger>
            <DropdownMenu.Portal>
              <DropdownMenu.Content align="end" className={MENU_PANEL}>
                <ActionItems
                  actions={[
                    {
                      label: LABELS.csvTable,
                      run: () => saveText(`${setName} changes.csv`, changesCsv(rows, [label(first), label(second)])),
                    },
                    ...SHEET_TYPES.map((type) => ({ label: LABELS.sheetAs(type.toUpperCase()), run: () => save(type) })),
                  ]}
                />
              </DropdownMenu.Content>
            </DropdownMenu.Portal>
          </DropdownMenu.Root>
          <Button disabled={rows.length === 0} title={HELP.printChanges} onClick={onPaper}>
            {LABELS.print}
          </Button>
          <Dialog.Close asChild>
            <Button>{LABELS.close}</Button>
          </Dialog.Close>
        </span>
      </div>
      {problem && (
        <p role="alert" className="text-ochre">
          {problem}
        </p>
      )}
      <div className="min-h-0 overflow-auto" data-testid="changes-table">
        <Rows
          rows={rows}
          nameOf={(row) => (
            <button type="button" className="text-left text-cobalt underline" onClick={() => onOpen(row)}>
              {row.name}
              {row.of > 1 && <span className="num"> {LABELS.frameNumber(row.frames.number)}</span>}
            </button>
          )}
        />
      </div>
    </div>
  );
}

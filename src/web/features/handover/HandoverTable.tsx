/** What of a set can be handed over, a row a run with its movies, and the renders that go out. */
import type { ReactNode } from 'react';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import { type DeliveryFileType, fileTypeOf } from '../../../core/image/fileTypes.js';
import { effectiveSettings, fileFormats } from '../../../core/plan/formatSheet.js';
import type { SetFile } from '../../../core/plan/set.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import { filesSummary } from '../shots/sheetSummary.js';
import { type HandoverRow, stateOfRow } from './handoverRows.js';
import { MovieRows } from './MovieRows.js';
import { HELP, LABELS, MESSAGES, ROW_STATE_WORDS } from './words.js';

const HEAD = 'border-b border-rule px-2 py-1.5 text-left font-head text-sm font-medium';
const CELL = 'border-b border-rule px-2 py-1.5';
const TONE = { redo: 'text-madder', incomplete: 'text-ochre', accepted: 'text-sap', done: 'text-graphite' } as const;

/** What the client asked of a run that it is not, in few words; null where it is as asked, undefined where nothing is recorded. */
function notAsked(row: HandoverRow, { delivery, sheet, shots }: SetFile): string | null | undefined {
  if (!delivery) return undefined;
  const { size } = row;
  if (size && delivery.sizes && !delivery.sizes.some((s) => s.width === size.width && s.height === size.height))
    return MESSAGES.sizeNot(delivery.sizes.map((s) => `${s.width} × ${s.height}`).join(', '));
  const shot = shots.find((s) => s.id === shotIdOfOutput(row.run));
  const rate = shot && effectiveSettings(sheet, shot).rate;
  return row.moving && delivery.rates && rate && !delivery.rates.includes(rate) ? MESSAGES.rateNot(delivery.rates.join(', ')) : null;
}

/** Types of files that shots of a set have. */
export function fileTypesOf({ sheet, shots }: SetFile): DeliveryFileType[] {
  const types = shots.flatMap((shot) => fileFormats(effectiveSettings(sheet, shot)).map(fileTypeOf));
  return [...new Set(types)];
}

interface HandoverTableProps {
  rows: readonly HandoverRow[];
  /** Runs that are not packed. */
  left: ReadonlySet<string>;
  file: SetFile | undefined;
  onPack: (run: string, on: boolean) => void;
  onMovie: (row: HandoverRow) => void;
}

/** Runs of frames and their movies, each with what it is and whether it is packed. */
export function HandoverTable({ rows, left, file, onPack, onMovie }: HandoverTableProps): ReactNode {
  const filesOf = (run: string): string => {
    const shot = file?.shots.find((s) => s.id === shotIdOfOutput(run));
    return file && shot ? filesSummary(effectiveSettings(file.sheet, shot).files) : '';
  };
  return (
    <table className="w-full border-collapse" data-testid="handover-table">
      <thead>
        <tr>
          <th className={HEAD}>
            <span className="sr-only">{LABELS.package}</span>
          </th>
          <th className={HEAD}>{LABELS.what}</th>
          <th className={HEAD}>{LABELS.type}</th>
          <th className={HEAD}>{LABELS.size}</th>
          <th className={`${HEAD} text-right`}>{LABELS.files}</th>
          <th className={HEAD}>{LABELS.state}</th>
          <th className={HEAD} title={HELP.asked}>
            {LABELS.asked}
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => {
          const state = stateOfRow(row);
          const wrong = file ? notAsked(row, file) : undefined;
          return [
            <tr key={row.run}>
              <td className={CELL}>
                <input
                  type="checkbox"
                  className="size-4 accent-madder"
                  aria-label={LABELS.packShot(row.name)}
                  checked={!left.has(row.run)}
                  onChange={(e) => onPack(row.run, e.target.checked)}
                />
              </td>
              <td className={`${CELL} font-medium`}>{row.name}</td>
              <td className={CELL}>{filesOf(row.run)}</td>
              <td className={`${CELL} num whitespace-nowrap`}>{row.size ? `${row.size.width} × ${row.size.height}` : ''}</td>
              <td className={`${CELL} num text-right`}>{LABELS.frames(row.done, row.frames)}</td>
              <td className={`${CELL} ${TONE[state]}`}>{ROW_STATE_WORDS[state]}</td>
              <td className={CELL}>
                {wrong === undefined ? (
                  <span className="text-graphite">{LABELS.notAskedFor}</span>
                ) : wrong === null ? (
                  <span className="text-graphite">{LABELS.asAsked}</span>
                ) : (
                  <span className="bg-ink px-1.5 py-0.5 text-chalk">{wrong}</span>
                )}
              </td>
            </tr>,
            <MovieRows key={`${row.run} movies`} row={row} onMake={() => onMovie(row)} />,
          ];
        })}
      </tbody>
    </table>
  );
}

/** The frames that stand for the runs that are packed. */
export function Covers({ rows, file }: Pick<HandoverTableProps, 'rows' | 'file'>): ReactNode {
  return (
    <ul aria-label={LABELS.renders} className="flex flex-wrap gap-x-3 gap-y-4 py-5">
      {rows.flatMap((row) =>
        row.covers.map((cover) => (
          <li key={`${cover.batch} ${cover.id}`} className="w-40">
            <img
              src={`${frameImageUrl(cover.batch, cover, 'thumb')}&width=480`}
              alt=""
              loading="lazy"
              className="h-[92px] w-40 bg-mount object-contain p-[3px]"
            />
            <span className="block truncate text-xs text-graphite">
              {[row.name, file?.views.find((v) => v.id === cover.view)?.name].filter(Boolean).join(', ')}
            </span>
          </li>
        )),
      )}
    </ul>
  );
}

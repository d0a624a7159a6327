/** The wall on paper: all of its rows as they stand, with heads on every page. */
import type { ReactNode } from 'react';
import type { ResultReply } from '../../../contract/results.js';
import type { WallColumn, WallRow } from '../../../core/review/wall.js';
import { isMoving } from '../../../core/shots/kinds.js';
import { frameImageUrl } from '../../ui/Thumbnail.js';
import type { WallCellData } from './Wall.js';
import { LABELS, STATE_WORDS } from './words.js';

interface Props {
  title: string;
  rows: readonly WallRow[];
  columns: readonly { column: WallColumn<ResultReply>; label: string }[];
  cellOf: (row: WallRow, column: WallColumn<ResultReply>) => WallCellData;
  viewName: (view: string) => string;
}

/** Height of a page's usable part at A4 across, in millimetres, of which a render takes so much at most. */
const MOST_HEIGHT_MM = 74;

/** The wall as it stands, for paper. */
export function WallPrint({ title, rows, columns, cellOf, viewName }: Props): ReactNode {
  return (
    <>
      <h1 className="mb-3 font-head text-lg font-semibold">{title}</h1>
      <table className="w-full table-fixed border-collapse text-sm">
        <thead>
          <tr>
            <th className="w-[32mm] border-b border-ink py-1 text-left font-head font-medium">{LABELS.shot}</th>
            {columns.map(({ column, label }) => (
              <th key={column.key} className="border-b border-ink px-1 py-1 text-left font-head font-medium">
                {label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.key}>
              <th className="border-b border-rule py-2 pr-2 text-left align-top font-medium">
                {row.name}
                <span className="block font-normal text-graphite">{isMoving(row.kind) ? LABELS.framesOf(row.frames) : viewName(row.view)}</span>
              </th>
              {columns.map(({ column }) => {
                const { result, state } = cellOf(row, column);
                return (
                  <td key={column.key} className="border-b border-rule px-1 py-2 align-top">
                    {result && (
                      <img
                        src={`${frameImageUrl(result.batch, { id: result.cover, samples: result.coverSamples }, 'thumb')}&width=960`}
                        alt=""
                        className="w-full object-contain object-left"
                        style={{ maxHeight: `${MOST_HEIGHT_MM}mm` }}
                      />
                    )}
                    <span className="text-xs text-graphite">{STATE_WORDS[state]}</span>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

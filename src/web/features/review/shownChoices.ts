/** Renders that a review page can show: those of the wall as it stands, or of the easel. */
import type { ResultReply } from '../../../contract/results.js';
import type { ShownRender } from '../../../contract/reviewPages.js';
import type { WallColumn, WallRow } from '../../../core/review/wall.js';
import { type Chosen, chosenOf } from './easelItems.js';
import type { WallCellData } from './Wall.js';

/** The renders that the wall shows, as a review page can choose among them. */
export function shownChoices(
  rows: readonly WallRow[],
  columns: readonly WallColumn<ResultReply>[],
  cellOf: (row: WallRow, column: WallColumn<ResultReply>) => WallCellData,
  chosen: readonly Chosen[],
  labelOf: (result: ResultReply) => string,
  results: readonly ResultReply[],
): { wall: ShownRender[]; easel: ShownRender[] } {
  const wall = rows.flatMap((row) =>
    columns.flatMap((column) => {
      const { result } = cellOf(row, column);
      return result ? [{ ...chosenOf(result), label: labelOf(result) }] : [];
    }),
  );
  const easel = chosen.map((c) => {
    const result = results.find((r) => r.batch === c.batch && r.run === c.run);
    return { ...c, label: result ? labelOf(result) : '' };
  });
  return { wall, easel };
}

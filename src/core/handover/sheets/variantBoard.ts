/** Renders by their variants on paper, for a board. */
import { inRuns, type Sheet, type SheetItem, sheetOf } from './page.js';
import { roomOf, type SheetOptions } from './paper.js';

const HEAD = 7;
const WORDS = 5;
const GAP = 3;

/** Renders for a board: what each is of down, variants across. @typeParam P what names or holds an image. */
export interface BoardRender<P> {
  of: string;
  variant: string;
  picture: P;
  aspect: number;
}

/** A spread by variants: a row for each view, a column for each variant; more variants than columns go to further pages. */
export function variantBoard<P>(renders: readonly BoardRender<P>[], options: SheetOptions): Sheet<P> {
  const paper = roomOf(options);
  const { width, margin, top, room } = paper;
  const variants = [...new Set(renders.map((r) => r.variant))];
  const views = [...new Set(renders.map((r) => r.of))];
  const columns = Math.min(options.columns, Math.max(1, variants.length));
  const cell = (width - 2 * margin - (columns - 1) * GAP) / columns;
  const height = Math.min(cell / (renders[0]?.aspect ?? 1), room - HEAD - WORDS);
  const rows = Math.max(1, Math.floor((room - HEAD) / (height + WORDS + GAP)));
  const at = new Map(renders.map((r) => [JSON.stringify([r.of, r.variant]), r]));
  const bodies = inRuns(variants, columns).flatMap((across) =>
    inRuns(views, rows).map((down): SheetItem<P>[] => [
      ...across.map((variant, i): SheetItem<P> => ({
        kind: 'text',
        text: variant,
        x: margin + i * (cell + GAP),
        y: top,
        width: cell,
        font: 'title',
        size: 10,
      })),
      ...down.flatMap((of, k) =>
        across.flatMap((variant, i): SheetItem<P>[] => {
          const render = at.get(JSON.stringify([of, variant]));
          if (!render) return [];
          const [x, y] = [margin + i * (cell + GAP), top + HEAD + k * (height + WORDS + GAP)];
          return [
            { kind: 'image', picture: render.picture, x, y, width: cell, height },
            { kind: 'text', text: of, x, y: y + height + 0.8, width: cell, font: 'words', size: 7.5, colour: 'graphite' },
          ];
        }),
      ),
    ]),
  );
  return sheetOf(paper, options, bodies);
}

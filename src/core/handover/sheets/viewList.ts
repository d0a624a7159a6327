/** A list of views: the plan with the cone of sight of each, numbered, and beside it what each shows and by which lens. */
import { planSquare } from '../../camera/orthographic.js';
import { sightCone } from '../../camera/sightCone.js';
import type { Size, View } from '../../camera/view.js';
import type { Bounds } from '../../math/bounds.js';
import { inRuns, type Sheet, type SheetItem, sheetOf } from './page.js';
import { roomOf, type SheetOptions } from './paper.js';

/** What the sheet is made of. @typeParam P what names or holds an image. */
export interface ViewListContent<P> {
  /** The square plan. */
  plan: P;
  bounds: Bounds;
  size: Size;
  pixelAspect: number;
  views: readonly { view: View; picture: P }[];
}

const ROW = 30;
const GAP = 6;
/** Share of the page's breadth that the plan takes. */
const PLAN_SHARE = 0.42;
const NUMBER = 8;

const metres = (point: readonly number[]): string => point.map((v) => v.toFixed(2)).join(', ');

/** How far beyond the plan's picture eyes and cones may reach, in breadths of it. */
const FARTHEST = 3;

/** The plan in a square at `x`, `y`, with the cones of all views; it is the smaller the farther off they stand. */
function planItems<P>({ plan, bounds, size, pixelAspect, views }: ViewListContent<P>, x: number, y: number, side: number): SheetItem<P>[] {
  const square = planSquare(bounds);
  const [cx, cy] = [square.x + square.side / 2, square.y + square.side / 2];
  const cones = views.map(({ view }) => sightCone(view, size, pixelAspect));
  const points = [...cones.flat(), ...views.map(({ view }) => [view.eye[0], view.eye[2]] as [number, number])];
  const needed = points.reduce((most, [px, pz]) => Math.max(most, 1.05 * Math.abs(px - cx), 1.05 * Math.abs(pz - cy)), square.side / 2);
  const half = Math.min((FARTHEST * square.side) / 2, needed);
  const share = (v: number): number => Math.min(1, Math.max(0, v));
  const place = ([px, pz]: readonly [number, number]): [number, number] => [
    x + share((px - cx) / (2 * half) + 0.5) * side,
    y + share((pz - cy) / (2 * half) + 0.5) * side,
  ];
  const drawn = (side * square.side) / (2 * half);
  return [
    { kind: 'image', picture: plan, x: x + (side - drawn) / 2, y: y + (side - drawn) / 2, width: drawn, height: drawn },
    ...views.flatMap(({ view }, i): SheetItem<P>[] => {
      const cone = cones[i]!;
      const [ex, ez] = place([view.eye[0], view.eye[2]]);
      return [
        ...(cone.length > 0 ? [{ kind: 'path' as const, points: cone.map(place), colour: 'blue' as const, width: 0.3, fill: 0.12 }] : []),
        { kind: 'text', text: String(i + 1), x: ex - 4, y: ez - 2, width: 8, font: 'title', size: 11, colour: 'madder', align: 'center' },
      ];
    }),
  ];
}

/** The sheet; the plan stands on every page, views in their order. */
export function viewListSheet<P>(content: ViewListContent<P>, options: SheetOptions): Sheet<P> {
  const paper = roomOf(options);
  const { width, margin, top, room } = paper;
  const across = width - 2 * margin;
  const upright = !options.across;
  const side = upright ? Math.min(across, room * 0.45) : Math.min(across * PLAN_SHARE, room);
  const [left, from] = upright ? [margin, top + side + GAP] : [margin + side + GAP, top];
  const breadth = width - margin - left;
  const perPage = Math.max(1, Math.floor((top + room - from) / ROW));
  const { size, pixelAspect } = content;
  const aspect = (size.width * pixelAspect) / size.height;
  const picture = { width: Math.min(breadth * 0.4, (ROW - 3) * aspect), height: ROW - 3 };
  const bodies = inRuns([...content.views.entries()], perPage).map((some): SheetItem<P>[] => [
    ...planItems(content, margin, top, side),
    ...some.flatMap(([number, { view, picture: of }], i): SheetItem<P>[] => {
      const y = from + i * ROW;
      const x = left + NUMBER + picture.width + 4;
      const line = (text: string, n: number): SheetItem<P> => ({
        kind: 'text',
        text,
        x,
        y: y + 7.5 + n * 4,
        width: width - margin - x,
        font: 'numbers',
        size: 7,
        colour: 'graphite',
      });
      return [
        {
          kind: 'path',
          points: [
            [left, y],
            [width - margin, y],
          ],
          colour: 'rule',
          width: 0.18,
        },
        { kind: 'text', text: String(number + 1), x: left, y: y + 1.5, width: NUMBER, font: 'title', size: 11, colour: 'madder' },
        { kind: 'image', picture: of, x: left + NUMBER, y: y + 1.5, ...picture },
        { kind: 'text', text: view.name, x, y: y + 1.5, width: width - margin - x, font: 'title', size: 9 },
        line(view.kind === 'parallel' ? `parallel, ${(view.width ?? 1).toFixed(2)} m across` : `${Math.round(view.focalLength)} mm`, 0),
        line(`eye ${metres(view.eye)} m`, 1),
        line(`target ${metres(view.target)} m`, 2),
      ];
    }),
  ]);
  return sheetOf(paper, options, bodies);
}

/** Shapes of sheets as SVG. */
import { SHEET_COLOURS, type SheetPath } from '../../core/handover/sheets/page.js';

const asIs = (mm: number): number => mm;

/** A shape as an element of SVG. @param unit units of the drawing in so many millimetres; millimetres where absent. */
export function pathSvg({ points, colour, width, fill }: SheetPath, unit: (mm: number) => number = asIs): string {
  const number = (mm: number): number => Number(unit(mm).toFixed(3));
  const at = points.map(([x, y]) => `${number(x)},${number(y)}`).join(' ');
  const [name, inside] = fill === undefined ? ['polyline', 'none'] : ['polygon', SHEET_COLOURS[colour]];
  return `<${name} points="${at}" fill="${inside}" fill-opacity="${fill ?? 0}" stroke="${SHEET_COLOURS[colour]}" stroke-width="${number(width)}"/>`;
}

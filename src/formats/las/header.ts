/** The header of LAS and LAZ files, by the ASPRS LAS Specification 1.4 R15. */
import { ModelError, type SourceFile } from '../format.js';

/** Bytes of the header of LAS 1.0, which later ones only add to. */
const LEAST_HEADER = 227;
/** Where red, green and blue are in a point, by its format. */
const COLOUR_AT: Readonly<Record<number, number>> = { 2: 20, 3: 28, 5: 28, 7: 30, 8: 30, 10: 30 };
/** Bytes of a point at least, by its format. */
const POINT_BYTES = [20, 28, 26, 34, 57, 63, 30, 36, 38, 59, 67];
/** The first format whose points have more returns, and their class in a byte of its own. */
const WIDE_FORMAT = 6;
/** Marks a format whose points are compressed (LAZ). */
const COMPRESSED = 0x80;

/** What the header says of the points. */
export interface LasHeader {
  count: number;
  compressed: boolean;
  /** Where the points begin, and bytes from one to the next. */
  start: number;
  stride: number;
  scale: [number, number, number];
  offset: [number, number, number];
  /** Whether returns and classes are stored as from format 6 on. */
  wide: boolean;
  /** Where its colour is in a point; undefined where it has none. */
  colourAt: number | undefined;
}

/** Reads the header. @throws ModelError where it is cut short, or of points of a kind that is not known. */
export function readHeader({ name, bytes }: SourceFile): LasHeader {
  const cut = (what: string): never => {
    throw new ModelError(`"${name}" is cut short: ${what}. Export or copy it again.`);
  };
  if (bytes.length < LEAST_HEADER) return cut('its header does not end');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const said = view.getUint8(104);
  const format = said & 0x3f;
  const start = view.getUint32(96, true);
  const stride = view.getUint16(105, true);
  const least = POINT_BYTES[format];
  if (least === undefined || stride < least)
    throw new ModelError(
      `"${name}" has points of format ${format} in ${stride} bytes, which LAS 1.4 does not know; write it again as LAS 1.2 or 1.4.`,
    );
  let count = view.getUint32(107, true);
  if (count === 0 && view.getUint16(94, true) >= 375 && bytes.length >= 375) count = Number(view.getBigUint64(247, true));
  const three = (at: number): [number, number, number] => [view.getFloat64(at, true), view.getFloat64(at + 8, true), view.getFloat64(at + 16, true)];
  const [scale, offset] = [three(131), three(155)];
  if (![...scale, ...offset].every(Number.isFinite))
    throw new ModelError(`"${name}" is damaged: its scale or offset is no number. Export or copy it again.`);
  const compressed = (said & COMPRESSED) !== 0;
  if (start > bytes.length || (!compressed && start + count * stride > bytes.length))
    return cut(`it should hold ${count.toLocaleString('en')} points`);
  return { count, compressed, start, stride, scale, offset, wide: format >= WIDE_FORMAT, colourAt: COLOUR_AT[format] };
}

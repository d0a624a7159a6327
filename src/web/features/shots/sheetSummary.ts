/** What a format sheet says, in few words: its file types, its aspect, and all of it in one line. */
import { QUALITY_LEVELS, resolveSampling } from '../../../core/frame/settings.js';
import type { FormatSheet } from '../../../core/plan/formatSheet.js';
import { rateName } from '../../../core/units/rate.js';
import { LABELS } from './sheetWords.js';

type SheetFile = FormatSheet['files'][number];

/** File types that the interface offers, by a name for each. */
export const FILE_TYPES: readonly { value: string; file: SheetFile; label: string }[] = [
  { value: 'png 8', file: { type: 'png', bits: 8 }, label: LABELS.png8Bits },
  { value: 'png 16', file: { type: 'png', bits: 16 }, label: LABELS.png16Bits },
  { value: 'jpeg', file: { type: 'jpeg', quality: 92 }, label: LABELS.jpeg },
  { value: 'exr 16', file: { type: 'exr', bits: 16 }, label: LABELS.openexrHalf },
  { value: 'exr 32', file: { type: 'exr', bits: 32 }, label: LABELS.openexrFloat },
];

/** The name in FILE_TYPES of a file type of the sheet. */
export const fileTypeOf = (file: SheetFile): string => (file.type === 'jpeg' ? 'jpeg' : `${file.type} ${file.bits}`);

/** Width to height as 16:9, or as a decimal where no small whole numbers have it. */
export function aspectName({ width, height }: FormatSheet['size']): string {
  const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
  const g = gcd(width, height);
  return width / g <= 64 && height / g <= 64 ? `${width / g}:${height / g}` : (width / height).toFixed(4);
}

/** Name and samples of the sheet's quality. */
export function qualityName({ quality }: FormatSheet): string {
  return typeof quality === 'string' ? LABELS.samples(quality, QUALITY_LEVELS[quality]) : LABELS.customSamples(resolveSampling(quality).samples);
}

/** The values that matter most, in one line. */
export function sheetSummary(sheet: FormatSheet): string {
  const { size, sizes, rate, files, passes } = sheet;
  const parts = [
    `${size.width} × ${size.height}${sizes ? ` +${sizes.length}` : ''}`,
    aspectName(size),
    LABELS.framesPerSecond(rateName(rate)),
    files.map((f) => FILE_TYPES.find((t) => t.value === fileTypeOf(f))!.label).join(' + '),
    qualityName(sheet),
    ...(passes.length > 1 ? [LABELS.passCount(passes.length)] : []),
  ];
  return parts.join(' · ');
}

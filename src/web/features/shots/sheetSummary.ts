/** What a format sheet says, in few words: its file types, its aspect, and all of it in one line. */
import { QUALITY_LEVELS, resolveSampling } from '../../../core/frame/settings.js';
import type { DeliveryFileType } from '../../../core/image/fileTypes.js';
import type { FormatSheet } from '../../../core/plan/formatSheet.js';
import { rateName } from '../../../core/units/rate.js';
import { LABELS } from './sheetWords.js';

/** A file type of the format sheet. */
export type SheetFile = FormatSheet['files'][number];

/** What the interface offers of each file type: its name, its bits by name, and what it begins with. */
export const FILE_KINDS: readonly {
  type: SheetFile['type'];
  label: string;
  bits: readonly { value: number; label: string }[];
  fallback: SheetFile;
}[] = [
  {
    type: 'png',
    label: LABELS.png,
    bits: [
      { value: 8, label: LABELS.png8Bits },
      { value: 16, label: LABELS.png16Bits },
    ],
    fallback: { type: 'png', bits: 8 },
  },
  { type: 'jpeg', label: LABELS.jpeg, bits: [], fallback: { type: 'jpeg', quality: 92 } },
  {
    type: 'tiff',
    label: LABELS.tiff,
    bits: [
      { value: 8, label: LABELS.tiff8Bits },
      { value: 16, label: LABELS.tiff16Bits },
      { value: 32, label: LABELS.tiffFloat },
    ],
    fallback: { type: 'tiff', bits: 16 },
  },
  { type: 'webp', label: LABELS.webp, bits: [], fallback: { type: 'webp', quality: 90 } },
  { type: 'avif', label: LABELS.avif, bits: [], fallback: { type: 'avif', quality: 80 } },
  { type: 'bmp', label: LABELS.bmp, bits: [], fallback: { type: 'bmp' } },
  {
    type: 'exr',
    label: LABELS.openexr,
    bits: [
      { value: 16, label: LABELS.openexrHalf },
      { value: 32, label: LABELS.openexrFloat },
    ],
    fallback: { type: 'exr', bits: 16 },
  },
  { type: 'hdr', label: LABELS.hdr, bits: [], fallback: { type: 'hdr' } },
];

/** A file type with its bits, as the format sheet names it. @param type as "png 16". */
export function fileTypeWords(type: DeliveryFileType): string {
  const [id, bits] = type.split(' ');
  const kind = FILE_KINDS.find((k) => k.type === id)!;
  return kind.bits.find((b) => b.value === Number(bits))?.label ?? kind.label;
}

/** A file type with its bits, or with its quality where that is not the usual one. */
export function fileSummary(file: SheetFile): string {
  const kind = FILE_KINDS.find((k) => k.type === file.type)!;
  if ('bits' in file) return kind.bits.find((b) => b.value === file.bits)!.label;
  if (file.type === 'webp' && file.lossless) return LABELS.webpLossless;
  const isUsual = !('quality' in file) || ('quality' in kind.fallback && kind.fallback.quality === file.quality);
  return isUsual ? kind.label : LABELS.qualityOf(kind.label, file.quality);
}

/** All file types in words. */
export const filesSummary = (files: FormatSheet['files']): string => files.map(fileSummary).join(' + ');

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
    filesSummary(files),
    qualityName(sheet),
    ...(passes.length > 1 ? [LABELS.passCount(passes.length)] : []),
  ];
  return parts.join(' · ');
}

/** The file types that every frame is written in, each with its bits or quality. */
import type { ReactNode } from 'react';
import { ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { DEFAULT_COMPRESSION, EXR_COMPRESSIONS, type ExrCompression } from '../../../core/frame/frame.js';
import { CHROMA, type Chroma, type ExrSplit, EXR_SPLITS, TIFF_COMPRESSIONS, type TiffCompression } from '../../../core/image/fileTypes.js';
import type { FormatSheet } from '../../../core/plan/formatSheet.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Checkbox, NumberField, Select } from '../../ui/controls.js';
import { Field } from '../../ui/Field.js';
import { FILE_KINDS, filesSummary, type SheetFile } from './sheetSummary.js';
import { HELP, LABELS } from './sheetWords.js';

interface FileTypesProps {
  files: FormatSheet['files'];
  /** Returns what is wrong, or null. */
  onFiles: (files: FormatSheet['files']) => string | null;
}

const TIFF_LABELS: Readonly<Record<TiffCompression, string>> = { none: LABELS.uncompressed, lzw: LABELS.lzw, deflate: LABELS.deflate };
const EXR_LABELS: Readonly<Record<ExrCompression, string>> = { none: LABELS.exrUncompressed, zips: LABELS.exrZips, zip: LABELS.exrZip };

const SPLIT_LABELS: Readonly<Record<ExrSplit, string>> = { parts: LABELS.exrParts, files: LABELS.exrFiles };
/** Stands for a split that is absent. */
const TOGETHER = 'together';

/** The type with other bits; floats of TIFF have no LZW. */
function withBits(file: SheetFile, bits: number): SheetFile {
  const kept = file.type === 'tiff' && bits === 32 && file.compression === 'lzw' ? { ...file, compression: undefined } : file;
  return { ...kept, bits } as SheetFile;
}

/** What can be set of one type. */
function FileSettings({ file, onFile }: { file: SheetFile; onFile: (file: SheetFile) => string | null }): ReactNode {
  const { label, bits } = FILE_KINDS.find((k) => k.type === file.type)!;
  const bitsField = (help: string): ReactNode =>
    'bits' in file && (
      <Select
        label={LABELS.bitsOf(label)}
        help={help}
        value={String(file.bits)}
        options={bits.map((b) => ({ value: String(b.value), label: b.label }))}
        onValue={(value) => onFile(withBits(file, Number(value)))}
      />
    );
  const qualityField = (name: string, help: string): ReactNode =>
    'quality' in file && (
      <NumberField label={name} help={help} value={file.quality} decimals={0} onValue={(q) => onFile({ ...file, quality: Math.round(q) })} />
    );
  switch (file.type) {
    case 'png':
      return (
        <>
          {bitsField(HELP.pngBits)}
          <NumberField
            label={LABELS.pngCompression}
            help={HELP.pngCompression}
            value={file.compression ?? DEFAULT_COMPRESSION.png}
            decimals={0}
            onValue={(level) => onFile({ ...file, compression: Math.round(level) })}
          />
        </>
      );
    case 'jpeg':
      return (
        <>
          {qualityField(LABELS.jpegQuality, HELP.jpegQuality)}
          <Select
            label={LABELS.chroma}
            help={HELP.chroma}
            value={file.chroma ?? '4:4:4'}
            options={CHROMA.map((value) => ({ value, label: value === '4:4:4' ? LABELS.chromaFull : LABELS.chromaHalf }))}
            onValue={(chroma) => onFile({ ...file, chroma: chroma as Chroma })}
          />
        </>
      );
    case 'tiff':
      return (
        <>
          {bitsField(HELP.tiffBits)}
          <Select
            label={LABELS.tiffCompression}
            help={HELP.tiffCompression}
            value={file.compression ?? DEFAULT_COMPRESSION.tiff}
            options={TIFF_COMPRESSIONS.filter((c) => c !== 'lzw' || file.bits !== 32).map((value) => ({ value, label: TIFF_LABELS[value] }))}
            onValue={(compression) => onFile({ ...file, compression: compression as TiffCompression })}
          />
        </>
      );
    case 'webp':
      return (
        <>
          {file.lossless ? <span /> : qualityField(LABELS.webpQuality, HELP.lossyQuality)}
          <Checkbox
            label={LABELS.lossless}
            help={HELP.lossless}
            checked={file.lossless === true}
            onChecked={(lossless) => onFile({ ...file, lossless })}
          />
        </>
      );
    case 'avif':
      return <div className="col-span-2">{qualityField(LABELS.avifQuality, HELP.lossyQuality)}</div>;
    case 'bmp':
    case 'hdr':
      return <span className="col-span-2 self-center text-xs text-graphite">{file.type === 'bmp' ? LABELS.bmpKind : LABELS.hdrKind}</span>;
    case 'exr':
      return (
        <>
          {bitsField(HELP.exrBits)}
          <Select
            label={LABELS.exrCompression}
            help={HELP.exrCompression}
            value={file.compression ?? DEFAULT_COMPRESSION.exr}
            options={EXR_COMPRESSIONS.map((value) => ({ value, label: EXR_LABELS[value] }))}
            onValue={(compression) => onFile({ ...file, compression: compression as ExrCompression })}
          />
          <span />
          <div className="col-span-2">
            <Select
              label={LABELS.exrPasses}
              help={HELP.exrSplit}
              value={file.split ?? TOGETHER}
              options={[{ value: TOGETHER, label: LABELS.exrTogether }, ...EXR_SPLITS.map((value) => ({ value, label: SPLIT_LABELS[value] }))]}
              onValue={(split) => onFile({ ...file, split: split === TOGETHER ? undefined : (split as ExrSplit) })}
            />
          </div>
        </>
      );
  }
}

/** A switch for each type, and what can be set of those that are on; the last one stays. */
export function FileTypes({ files, onFiles }: FileTypesProps): ReactNode {
  return (
    <div className="grid grid-cols-[110px_120px_120px] items-end gap-x-4 gap-y-2">
      {FILE_KINDS.map(({ type, label, fallback }) => {
        const file = files.find((f) => f.type === type);
        return (
          <div key={type} className="contents">
            <Checkbox
              label={label}
              help={type === 'bmp' || type === 'hdr' ? HELP[type] : HELP.fileType}
              checked={file !== undefined}
              onChecked={(on) =>
                toastProblem(onFiles(FILE_KINDS.flatMap((k) => (k.type === type ? (on ? [fallback] : []) : files.filter((f) => f.type === k.type)))))
              }
            />
            {file ? (
              <FileSettings file={file} onFile={(next) => onFiles(files.map((f) => (f.type === type ? next : f)))} />
            ) : (
              <span className="col-span-2" />
            )}
          </div>
        );
      })}
    </div>
  );
}

/** The chosen types in a few words; a click opens them. */
export function FileTypesField({ files, onFiles }: FileTypesProps): ReactNode {
  return (
    <Field label={LABELS.fileTypes} help={HELP.fileType}>
      {(id, described) => (
        <Popover.Root>
          <Popover.Trigger
            id={id}
            aria-describedby={described}
            className="flex h-7 w-full min-w-0 items-center justify-between border-b border-graphite text-left"
          >
            <span className="min-w-0 truncate">{filesSummary(files)}</span>
            <ChevronDown size={14} aria-hidden className="shrink-0 text-graphite" />
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content align="start" sideOffset={4} className="z-40 border border-graphite bg-chalk p-3">
              <FileTypes files={files} onFiles={onFiles} />
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      )}
    </Field>
  );
}

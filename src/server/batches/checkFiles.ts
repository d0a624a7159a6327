/** Reads the files of a finished frame back by other decoders than the ones that wrote them, and says what is not as planned. */
import { readFile } from 'node:fs/promises';
import type { FileFormat, Frame } from '../../core/frame/frame.js';
import { holdsAllPasses } from '../../core/image/fileTypes.js';
import { fileNames } from '../../engine/output/renderFrame.js';
import { openImage } from '../../engine/node/openImage.js';
import { lightDecoder, type LightPicture } from '../../formats/environment/read.js';
import { storageFault } from '../errors.js';

/** Names of sharp for so many bits a channel. */
const DEPTHS: Record<FileFormat['bits'], string> = { 8: 'uchar', 16: 'ushort', 32: 'float' };

/** The pass that a file holds, and how it is written. */
interface PlannedFile {
  name: string;
  format: FileFormat;
  /** Undefined of a file with all passes. */
  pass: Frame['passes'][number] | undefined;
}

function plannedFiles(frame: Frame): PlannedFile[] {
  const names = fileNames(frame);
  let at = 0;
  return frame.files.flatMap((format) =>
    holdsAllPasses(format)
      ? [{ name: names[at++]!, format, pass: undefined }]
      : frame.passes.map((pass): PlannedFile => ({ name: names[at++]!, format, pass })),
  );
}

const sizeOf = ({ width, height }: { width?: number | undefined; height?: number | undefined }): string => `${width} × ${height}`;

/** What is wrong with a file that holds no numbers but pixels, or floats of TIFF, as clauses. */
async function checkImage(bytes: Buffer, { name, format, pass }: PlannedFile, frame: Frame): Promise<string[]> {
  const image = openImage(bytes, name);
  const { width, height, depth, hasAlpha, format: type } = await image.metadata();
  const wrong: string[] = [];
  // AVIF is a HEIF file with AV1 in it; BMP is opened as its pixels.
  if (format.type !== 'bmp' && (type === 'heif' ? 'avif' : type) !== format.type) wrong.push(`is a file of type ${type}`);
  if (width !== frame.size.width || height !== frame.size.height) wrong.push(`is ${sizeOf({ width, height })}, planned were ${sizeOf(frame.size)}`);
  if (depth !== DEPTHS[format.bits]) wrong.push(`does not have ${format.bits} bits a channel`);
  if (pass !== 'beauty') return wrong;
  if (frame.transparent !== hasAlpha) wrong.push(frame.transparent ? 'has no alpha' : 'has alpha');
  const { channels } = await image.stats();
  const colour = channels.slice(0, 3);
  const step = depth === 'float' ? 0 : depth === 'ushort' ? 257 : 1;
  if (colour.every((c) => c.max <= step)) wrong.push('is black');
  else if (colour.every((c) => c.min === c.max) && !hasAlpha) wrong.push('is one even colour');
  if (hasAlpha && channels.at(-1)!.max === 0) wrong.push('is empty: its alpha is 0 everywhere');
  return wrong;
}

/** What is wrong with a file of light as numbers. */
async function checkNumbers(bytes: Buffer, type: 'exr' | 'hdr', frame: Frame): Promise<string[]> {
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer;
  const { width, height, data } = (await lightDecoder(type === 'exr')).parse(buffer) as LightPicture;
  if (width !== frame.size.width || height !== frame.size.height) return [`is ${sizeOf({ width, height })}, planned were ${sizeOf(frame.size)}`];
  return data.every((v) => Number.isFinite(v)) ? [] : ['has values that are no numbers'];
}

/** Sentences about what of a finished frame is not as planned; none where all is. Rejects with ServerError where the disk is at fault. */
export async function checkFiles(frame: Frame, pathOf: (file: string) => string): Promise<string[]> {
  const found: string[] = [];
  for (const file of plannedFiles(frame)) {
    let wrong: string[];
    try {
      const { type } = file.format;
      const bytes = await readFile(pathOf(file.name));
      wrong = type === 'exr' || type === 'hdr' ? await checkNumbers(bytes, type, frame) : await checkImage(bytes, file, frame);
    } catch (e) {
      // A disk at fault says nothing of the file: the batch waits for it.
      const fault = storageFault(e);
      if (fault) throw fault;
      wrong = [(e as NodeJS.ErrnoException).code === 'ENOENT' ? 'is missing' : `cannot be read: ${(e as Error).message}`];
    }
    found.push(...wrong.map((w) => `"${file.name}" ${w}.`));
  }
  return found;
}

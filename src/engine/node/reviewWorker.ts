/** Entry of a process that looks at finished renders; bundled to dist/review-worker.mjs. */
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { DataUtils } from 'three/src/extras/DataUtils.js';
import { changedParts } from '../../core/review/changedParts.js';
import type { Pixels } from '../../core/review/difference.js';
import { joinExr, readExr } from '../../formats/exr/read.js';
import { PictureComparer } from '../compare/pictureComparer.js';
import { exrSource } from '../output/exrSource.js';
import { linearLight } from '../output/linearLight.js';
import { decodeMaster } from '../output/master.js';
import { mixedSource } from '../output/mixedSource.js';
import type { PassSource } from '../output/film.js';
import { passToDisplay, withLineCover } from '../output/passes.js';
import { loadKernelModule } from './assets.js';
import { readFacts } from './auditPackage.js';
import { openImageFile } from './openImage.js';
import { receivePartMap, type ReviewDone, type ReviewTask, type ShownFile } from './reviewTask.js';
import { serveTasks } from './serveTasks.js';
import { sheetHtml } from './sheetHtml.js';
import { sheetPdf } from './sheetPdf.js';
import { sheetPngs } from './sheetPng.js';

let comparer: PictureComparer | null = null;

/** What a person sees of a file. */
async function open(file: ShownFile): Promise<Sharp> {
  if ('path' in file) return openImageFile(file.path);
  const plain =
    'exr' in file
      ? exrSource(joinExr(await Promise.all(file.exr.map(async (f) => readExr(await readFile(f))))))
      : withLineCover(decodeMaster(await readFile(file.master)).source, file.lines);
  const source = mixedSource(plain, file);
  const display = passToDisplay(source, file.pass, file.grade, file.range);
  const bytes = Uint8Array.from(display, (v) => Math.round(Math.min(1, Math.max(0, v)) * 255));
  return sharp(bytes, { raw: { width: source.width, height: source.height, channels: 3 } });
}

async function sizeOf(image: Sharp): Promise<{ width: number; height: number }> {
  const { width, height } = await image.metadata();
  return { width: width!, height: height! };
}

async function pixelsOf(image: Sharp, width: number, height: number): Promise<Pixels> {
  const data = await image.resize({ width, height, fit: 'fill' }).toColourspace('srgb').ensureAlpha().raw({ depth: 'uchar' }).toBuffer();
  return { width, height, data: new Uint8Array(data) };
}

serveTasks<ReviewTask, ReviewDone>(async (task) => {
  if (task.kind === 'show') {
    await (await open(task.file)).png({ compressionLevel: 3 }).toFile(task.out);
    return { shown: true };
  }
  if (task.kind === 'facts') return { facts: await readFacts(task.path, task.of) };
  if (task.kind === 'sheet') {
    if (task.type !== 'png') await writeFile(task.out, await { pdf: sheetPdf, html: sheetHtml }[task.type](task.sheet, open));
    else for (const [i, page] of (await sheetPngs(task.sheet, open)).entries()) await writeFile(path.join(task.out, `${i + 1}.png`), page);
    return { sheet: true };
  }
  if (task.kind === 'linear') {
    const { source: kept } = decodeMaster(await readFile(task.master));
    const other = task.beauty && exrSource(readExr(await readFile(task.beauty)));
    const source: PassSource = other ? { ...kept, plane: (id) => (id === 'beauty' ? other : kept).plane(id) } : kept;
    const { values, ...size } = linearLight(source, task.passes, task.maxPixels);
    await writeFile(
      task.out,
      Uint16Array.from(values, (v) => DataUtils.toHalfFloat(v)),
    );
    return { linear: size };
  }
  const [a, b] = [await open(task.first), await open(task.second)];
  const [s, t] = [await sizeOf(a), await sizeOf(b)];
  const width = Math.min(task.width, s.width, t.width);
  const height = Math.max(1, Math.round((width * s.height) / s.width));
  comparer ??= new PictureComparer(loadKernelModule());
  const difference = comparer.difference(await pixelsOf(a, width, height), await pixelsOf(b, width, height), task.threshold);
  const { changed, ssim, largest, areas } = difference;
  const parts = task.parts ? changedParts(difference, receivePartMap(task.parts[0]), receivePartMap(task.parts[1])) : [];
  return { comparison: { width, height, changed, ssim, largest, areas: areas.length, parts } };
});

/** The list that registers every model format, and the way in for all of them. */
import { assumedUnits, unitsOf, wayRound } from '../core/model/fileExtensions.js';
import { type Model, uniqueTriangles } from '../core/model/model.js';
import {
  DamageError,
  describeSignature,
  extensionOf,
  type ModelFormat,
  ModelError,
  MAX_TRIANGLES,
  type AskedOptions,
  type ReadOptions,
  type SourceFile,
} from './format.js';
import { isArchiveName, openArchives } from './archive.js';
import { checkBudget } from './budget.js';
import { assumedUnitsNote, listNames } from './report.js';
import { MAX_SEARCHED } from './modelBuilder.js';
import { cityjson } from './cityjson/format.js';
import { collada } from './collada/format.js';
import { dxf } from './dxf/format.js';
import { fbx } from './fbx/format.js';
import { glb, gltf } from './glb/format.js';
import { ifc } from './ifc/format.js';
import { las } from './las/format.js';
import { obj } from './obj/format.js';
import { off } from './off/format.js';
import { ply } from './ply/format.js';
import { step } from './step/format.js';
import { stl } from './stl/format.js';
import { threedm } from './threedm/format.js';
import { threemf } from './threemf/format.js';
import { usd } from './usd/format.js';
import { vrml } from './vrml/format.js';

/** All formats that are read, in the order in which files are held against them. */
export const MODEL_FORMATS: ModelFormat[] = [glb, gltf, step, ifc, obj, stl, ply, threemf, collada, usd, fbx, vrml, off, dxf, threedm, las, cityjson];

const KNOWN = MODEL_FORMATS.flatMap((f) => f.extensions);
const isModelName = (name: string): boolean => KNOWN.includes(extensionOf(name));

/** Name of the file among several that is the model or the archive that holds it, by their endings; the first where none is. */
export function findModelName(names: readonly string[]): string {
  return names.find(isModelName) ?? names.find(isArchiveName) ?? names[0] ?? 'model';
}

/** Models among files, but for those that others of them name, as a layer does those that it refers to; in their order. */
function separateModels(files: readonly SourceFile[]): SourceFile[] {
  const models = files.filter((f) => isModelName(f.name));
  if (models.length < 2) return models;
  const texts = models.map(({ bytes }) => (bytes.length <= MAX_SEARCHED ? new TextDecoder('latin1').decode(bytes) : ''));
  const isNamed = ({ name }: SourceFile, n: number): boolean =>
    texts.some((text, other) => other !== n && text.includes(name.slice(name.lastIndexOf('/') + 1)));
  const own = models.filter((file, n) => !isNamed(file, n));
  return own.length > 0 ? own : models.slice(0, 1);
}

/** The file among several that is the model, and its format. Throws ModelError. */
export function findModel(files: SourceFile[], [file] = separateModels(files)): { file: SourceFile; format: ModelFormat } {
  if (!file)
    throw new ModelError(
      wayRound(files.map((f) => f.name)) ??
        `There is no model among ${files.map((f) => `"${f.name}"`).join(', ') || 'the files'}; give a file that ends in ${KNOWN.map((e) => `.${e}`).join(' or ')}.`,
    );
  if (file.bytes.length === 0) throw new ModelError(`"${file.name}" is empty; export it again.`);
  const format = MODEL_FORMATS.find((f) => f.extensions.includes(extensionOf(file.name)))!;
  if (!format.sniff(file)) {
    const actual = describeSignature(file.bytes);
    throw new ModelError(
      `"${file.name}" is ${actual ? `${actual}, not ${format.noun}` : `no ${format.id.toUpperCase()} file`}; choose the model that you exported.`,
    );
  }
  return { file, format };
}

/** Refuses what the rest cannot work with: vertex numbers and coordinates that do not exist. */
function check(model: Model, name: string): void {
  for (const part of model.parts) {
    for (const p of part.primitives) {
      const mesh = model.meshes[p.mesh]!;
      const count = mesh.positions.length / 3;
      for (const i of mesh.indices) {
        if (i >= count)
          throw new ModelError(
            `"${name}": the part "${part.name}" refers to vertex ${i}, but has only ${count}. The file is damaged; export it again.`,
          );
      }
      if (mesh.positions.some((v) => !Number.isFinite(v)))
        throw new ModelError(`"${name}": the part "${part.name}" has a coordinate that is not a number. The file is damaged; export it again.`);
    }
  }
  const triangles = uniqueTriangles(model);
  if (triangles === 0 && model.curves.length === 0) throw new ModelError(`"${name}" has no surfaces to render; export it with its meshes.`);
  if (triangles > MAX_TRIANGLES)
    throw new ModelError(
      `"${name}" has ${triangles.toLocaleString('en')} triangles; ${MAX_TRIANGLES.toLocaleString('en')} is the most. Reduce it before exporting.`,
    );
}

/** Lines stay out of renders until they are asked for; where there is nothing else, they are what the file shows. */
function showLinesAlone({ meshes, curves, parts, warnings }: Model): void {
  if (meshes.length > 0) return;
  warnings.push('The file has lines alone. Renders show them with "Line overlay", under Passes on the Shots step.');
  if (curves.some(({ part }) => parts[part]!.renderVisible)) return;
  for (const { part } of curves) parts[part]!.renderVisible = parts[parts[part]!.parent]?.renderVisible ?? true;
}

/** The files with archives opened, the models among them, of which the first counts, and its name. Throws ModelError. */
export async function openModelFiles(given: SourceFile[]): Promise<{ files: SourceFile[]; models: SourceFile[]; source: string }> {
  const files = await openArchives(given, separateModels);
  const models = separateModels(files);
  return { files, models, source: models[0]?.name ?? findModelName(files.map((f) => f.name)) };
}

/** Reads a model and the files that came with it, out of archives too. Throws ModelError with one clear message. */
export async function readModel(given: SourceFile[], asked: AskedOptions): Promise<Model> {
  const { files, models } = await openModelFiles(given);
  const { file, format } = findModel(files, models);
  const options: ReadOptions = { ...asked, ...unitsOf(extensionOf(file.name), asked), asked };
  let model: Model;
  try {
    model = await format.read(
      file,
      files.filter((f) => f !== file),
      options,
    );
  } catch (e) {
    if (e instanceof ModelError) throw e;
    // What libraries say is of their own insides, and some throw a bare number: it is no help to whoever exported the file.
    const why = e instanceof DamageError ? e.message : 'it is damaged, or has something in it that is not known here';
    throw new ModelError(`"${file.name}" could not be read as ${format.noun}: ${why}. Export it again.`, { cause: e });
  }
  if (assumedUnits(extensionOf(file.name)) && !(asked.unit && asked.up))
    model.warnings.push(assumedUnitsNote(asked.unit ? null : options.unit, asked.up ? null : options.up));
  const others = models.slice(1);
  if (others.length > 0) model.warnings.push(`One model is imported at a time. Left out: ${listNames(others.map((f) => f.name))}.`);
  check(model, file.name);
  showLinesAlone(model);
  checkBudget(model, file.name);
  return model;
}

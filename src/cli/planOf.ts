/** A set laid on a model, for the commands that plan. */
import { Option } from 'commander';
import type { Frame } from '../core/frame/frame.js';
import { missingGroups } from '../core/edit/remapParts.js';
import type { SetFile } from '../core/plan/set.js';
import { type PlanContext, planFrames } from '../core/planning/planFrames.js';
import { LENGTH_UNITS, type LengthUnit } from '../core/units/length.js';
import { importModel } from '../engine/node/importModel.js';
import { loadKernelModule } from '../engine/node/assets.js';
import { decodeScene } from '../engine/scene/compile.js';
import type { Prepared } from '../engine/scene/prepare.js';
import type { AssetProvider } from '../engine/scene/resolveScene.js';
import { InputError, type Say } from './command.js';
import { type EnvironmentFile, readSources, textureReader } from './input.js';

/** How a model's file is read, where it does not say so itself. */
export interface ModelOptions {
  unit?: LengthUnit;
  up?: 'y' | 'z';
  faces: 'together' | 'apart';
}

/** Options of commands that read a model. */
export const modelOptions = (): Option[] => [
  new Option('--unit <unit>', "unit of the model's numbers, where the file does not say").choices(LENGTH_UNITS),
  new Option('--up <axis>', 'axis that points up, where the file does not say').choices(['y', 'z']),
  new Option('--faces <mode>', 'keep faces of a CAD model apart, so that each can have a material')
    .choices(['together', 'apart'])
    .default('together'),
];

/** Options of commands that plan a set on a model. */
export interface PlanOptions extends ModelOptions {
  model: string;
}

/** Options of commands that plan a set on a model. */
export const planOptions = (): Option[] => [
  new Option('--model <file>', 'the model that the set is laid on').makeOptionMandatory(),
  ...modelOptions(),
];

/** Reads the model as an import does. */
export function loadModel(file: string, { unit, up, faces }: ModelOptions): Promise<Prepared> {
  return importModel(readSources(file), { ...(unit && { unit }), ...(up && { up }), facesApart: faces === 'apart' });
}

/** The model that a set is laid on. Says where its faces do not fit the set. */
export async function loadModelFor(set: SetFile, options: PlanOptions, say: Say): Promise<Prepared> {
  const prepared = await loadModel(options.model, options);
  for (const path of missingGroups(set, prepared.summary.parts))
    say(`note: "${path}" has fewer groups of faces than the set assigns materials to. If they were separated, give --faces apart.`);
  return prepared;
}

/** What a plan hangs on beside its set. */
export function planContext({ summary }: Prepared, environments: EnvironmentFile[] = []): PlanContext {
  return {
    bounds: summary.bounds,
    scene: summary.hash,
    model: summary.name,
    project: summary.name,
    environments: Object.fromEntries(environments.map((e) => [e.file, e.id])),
  };
}

/** The frames of a set. Throws InputError where it cannot be planned. */
export function planOf(set: SetFile, prepared: Prepared, environments: EnvironmentFile[] = []): Frame[] {
  try {
    return planFrames(set, planContext(prepared, environments));
  } catch (e) {
    throw new InputError((e as Error).message);
  }
}

/** Where the scene of a model and the images beside the set file come from. */
export function assetsOf({ summary, scene: bytes }: Prepared, setFile: string, environments: EnvironmentFile[]): AssetProvider {
  const scene = decodeScene(bytes)!;
  return {
    hash: summary.hash,
    scene: () => scene,
    module: loadKernelModule,
    texture: textureReader(setFile),
    picture: (id) => Promise.resolve(environments.find((e) => e.id === id)!),
  };
}

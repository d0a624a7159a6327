/** Endings of the files that can be brought in; src/formats reads them. */
import type { LengthUnit } from '../units/length.js';

/** Of models that state unit and up axis. */
export const EXT_WITH_UNITS = ['glb', 'gltf', 'step', 'stp', 'iges', 'igs', 'ifc', '3mf', 'dae', 'usdz', 'usda', 'usdc', 'usd', 'fbx', 'dxf', '3dm'];
/** Of models that say neither, or not enough: both are asked for. */
export const EXT_WITHOUT_UNITS = ['obj', 'stl', 'ply', 'off', 'wrl', 'vrml'];
/** Of shapes whose unit the format leaves open, but whose writers all mean millimetres and +Z up. */
export const EXT_IMPLIED_UNITS = ['brep'];
/** Of models whose solids have faces that can be kept apart. */
export const EXT_WITH_FACES = ['step', 'stp', 'iges', 'igs', 'brep'];
/** Of archives that hold one model, with its other files or alone. */
export const ARCHIVE_EXTENSIONS = ['zip', 'zae', 'ifczip', 'gz'];
/** Whether an entry of an archive is something that somebody put there: no folder, and nothing that systems add. */
export const isArchiveContent = (entry: string): boolean => !/(^|\/)(__MACOSX\/|\.)|\/$/.test(entry);
/** Of files that come along with a model. */
export const SIDECAR_EXTENSIONS = ['mtl', 'bin', 'png', 'jpg', 'jpeg', 'webp'];

/** What the numbers of a model are in, and which axis points up. */
export interface Units {
  unit: LengthUnit;
  up: 'y' | 'z';
}

/** How the note in a report begins that tells what was assumed of a file. */
export const NOT_STATED = 'Not stated by the file, and assumed';

/** What is assumed of a model's file whose writer left its units open, by its ending; null where the file states them. */
export function assumedUnits(extension: string): Units | null {
  if (EXT_IMPLIED_UNITS.includes(extension)) return { unit: 'mm', up: 'z' };
  return EXT_WITHOUT_UNITS.includes(extension) ? { unit: 'm', up: 'y' } : null;
}

/** What a model's file is read in: as somebody said, else as is assumed of its kind. */
export function unitsOf(extension: string, asked: Partial<Units>): Units {
  const assumed = assumedUnits(extension);
  return { unit: asked.unit ?? assumed?.unit ?? 'm', up: asked.up ?? assumed?.up ?? 'y' };
}

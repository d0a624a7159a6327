/** Endings of the files that can be brought in; src/formats reads them. */
import type { LengthUnit } from '../units/length.js';

/** Of models that state unit and up axis. */
export const EXT_WITH_UNITS = ['glb', 'gltf', 'step', 'stp', 'iges', 'igs', 'ifc', '3mf', 'dae', 'usdz', 'usda', 'usdc', 'usd', 'fbx', 'dxf', '3dm'];
/** Of models that say neither, or not enough: both are asked for. */
export const EXT_WITHOUT_UNITS = ['obj', 'stl', 'ply', 'off', 'wrl', 'vrml'];
/** What writers mean whose format leaves its unit open, and who all mean the same, by ending. */
const IMPLIED: Readonly<Record<string, Units>> = {
  brep: { unit: 'mm', up: 'z' },
  las: { unit: 'm', up: 'z' },
  laz: { unit: 'm', up: 'z' },
  'city.json': { unit: 'm', up: 'z' },
  cityjson: { unit: 'm', up: 'z' },
};
/** Of models whose unit the format leaves open, but whose writers all mean the same. */
export const EXT_IMPLIED_UNITS = Object.keys(IMPLIED);
/** Of models whose solids have faces that can be kept apart. */
export const EXT_WITH_FACES = ['step', 'stp', 'iges', 'igs', 'brep'];
/** Of archives that hold one model, with its other files or alone. */
export const ARCHIVE_EXTENSIONS = ['zip', 'zae', 'ifczip', 'gz'];
/** Whether an entry of an archive is something that somebody put there: no folder, and nothing that systems add. */
export const isArchiveContent = (entry: string): boolean => !/(^|\/)(__MACOSX\/|\.)|\/$/.test(entry);
/** Of images of light: Radiance, OpenEXR, portable float maps and TIFF of floats. */
export const ENVIRONMENT_ENDINGS: readonly string[] = ['hdr', 'exr', 'pfm', 'tif', 'tiff'];
/** Of textures of models. */
export const TEXTURE_EXTENSIONS = ['png', 'jpg', 'jpeg', 'webp', 'tif', 'tiff', 'bmp', 'tga', 'ktx2'];
/** Of files that come along with a model. */
export const SIDECAR_EXTENSIONS = ['mtl', 'bin', ...TEXTURE_EXTENSIONS];

/** What the numbers of a model are in, and which axis points up. */
export interface Units {
  unit: LengthUnit;
  up: 'y' | 'z';
}

/** How the note in a report begins that tells what was assumed of a file. */
export const NOT_STATED = 'Not stated by the file, and assumed';

/** What is assumed of a model's file whose writer left its units open, by its ending; null where the file states them. */
export function assumedUnits(extension: string): Units | null {
  if (Object.hasOwn(IMPLIED, extension)) return IMPLIED[extension]!;
  return EXT_WITHOUT_UNITS.includes(extension) ? { unit: 'm', up: 'y' } : null;
}

/** What a model's file is read in: as somebody said, else as is assumed of its kind. */
export function unitsOf(extension: string, asked: Partial<Units>): Units {
  const assumed = assumedUnits(extension);
  return { unit: asked.unit ?? assumed?.unit ?? 'm', up: asked.up ?? assumed?.up ?? 'y' };
}

/** What to do with files that people have and that are not read, by ending. */
const WAYS_ROUND: Readonly<Record<string, string>> = {
  dwg: 'Save it as DXF, or export STEP or IFC of it, in the program that made it.',
  e57: 'Save the cloud as LAZ, LAS or PLY.',
  pts: 'Save the cloud as LAZ, LAS or PLY.',
  xyz: 'Save the cloud as LAZ, LAS or PLY.',
  ifcxml: 'Export it as .ifc: the same model in the usual form.',
  x3d: 'Export it as glTF or VRML97.',
  '3ds': 'Export it as glTF, FBX or OBJ.',
};

/** A sentence and a remedy for the first file whose kind is known and not read; null where there is none such. */
export function wayRound(names: readonly string[]): string | null {
  for (const name of names) {
    const ending = extensionOf(name);
    if (Object.hasOwn(WAYS_ROUND, ending)) return `"${name}" is of a kind that is not read. ${WAYS_ROUND[ending]}`;
  }
  return null;
}

const ENDING = /\.(city\.json|[^./\\]+)$/i;

/** Ending of a file's name in small letters, without the dot; empty where there is none. That of towns has a dot: other JSON is none. */
export const extensionOf = (name: string): string => ENDING.exec(name)?.[1]?.toLowerCase() ?? '';

/** A file's name without its ending. */
export const fileStem = (name: string): string => name.replace(ENDING, '');

/** Endings of the files that can be brought in; src/formats reads them. */

/** Of models that state unit and up axis. */
export const EXT_WITH_UNITS = ['glb', 'gltf', 'step', 'stp', 'iges', 'igs', 'ifc', '3mf', 'dae', 'usdz', 'usda', 'usdc', 'usd', 'fbx'];
/** Of models that say neither, or not enough: both are asked for. */
export const EXT_WITHOUT_UNITS = ['obj', 'stl', 'ply', 'wrl', 'vrml'];
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

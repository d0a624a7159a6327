/** Endings of the files that can be brought in; src/formats reads them. */

/** Of models that state unit and up axis. */
export const STATING = ['glb', 'gltf', 'step', 'stp', 'iges', 'igs', 'ifc', '3mf', 'dae', 'usdz', 'usda', 'usdc', 'usd'];
/** Of models that say neither, or not enough: both are asked for. */
export const ASKING = ['obj', 'stl', 'ply'];
/** Of shapes whose unit the format leaves open, but whose writers all mean millimetres and +Z up. */
export const ASSUMING = ['brep'];
/** Of models whose solids have faces that can be kept apart. */
export const FACED = ['step', 'stp', 'iges', 'igs', 'brep'];
/** Of files that come along with a model. */
export const COMPANIONS = ['mtl', 'bin', 'png', 'jpg', 'jpeg', 'webp'];

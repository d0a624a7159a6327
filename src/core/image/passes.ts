/** What a picture can be written as: each pass, what it is made of, and whether it may be graded. */

/** A pass: one of the images that a render is made of. */
export interface Pass {
  id: string;
  label: string;
  /** What the engine must gather for it: the base alone, the parts of light, those kept apart too, the mattes, or a picture of its own. */
  needs: 'base' | 'light' | 'apart' | 'mattes' | 'own';
  /** What it is offered with. */
  group: 'light' | 'sources' | 'layers' | 'data';
  /** Channels of its float form; colour with alpha is premultiplied. */
  channels: readonly string[];
  /** Numbers, not a picture: never graded, never denoised. */
  data: boolean;
}

const rgb = ['R', 'G', 'B'] as const;
const rgba = ['R', 'G', 'B', 'A'] as const;
const xyz = ['X', 'Y', 'Z'] as const;

/** Light of the nth of the stage's lights; further ones are with the last. */
function lightPass<N extends 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8>(n: N) {
  return { id: `light-${n}`, label: `light ${n}`, needs: 'apart', group: 'sources', channels: rgb, data: false } as const;
}

/** All passes, in the order in which they are offered. */
export const PASSES = [
  { id: 'beauty', label: 'beauty', needs: 'base', group: 'light', channels: rgb, data: false },
  { id: 'diffuse', label: 'diffuse', needs: 'light', group: 'light', channels: rgb, data: false },
  { id: 'specular', label: 'specular', needs: 'light', group: 'light', channels: rgb, data: false },
  { id: 'emission', label: 'emission', needs: 'light', group: 'light', channels: rgb, data: false },
  { id: 'translucent', label: 'translucent', needs: 'light', group: 'light', channels: rgb, data: false },
  { id: 'occlusion', label: 'ambient occlusion', needs: 'light', group: 'light', channels: ['Y'], data: false },
  { id: 'shadow', label: 'shadow', needs: 'light', group: 'light', channels: ['Y'], data: false },
  { id: 'depth', label: 'depth', needs: 'base', group: 'data', channels: ['Z'], data: true },
  { id: 'position', label: 'position', needs: 'light', group: 'data', channels: xyz, data: true },
  { id: 'normal', label: 'normal', needs: 'base', group: 'data', channels: xyz, data: true },
  { id: 'albedo', label: 'albedo', needs: 'base', group: 'data', channels: rgb, data: true },
  { id: 'parts', label: 'part mattes', needs: 'mattes', group: 'data', channels: rgb, data: true },
  { id: 'materials', label: 'material mattes', needs: 'mattes', group: 'data', channels: rgb, data: true },
  { id: 'alpha', label: 'alpha', needs: 'base', group: 'data', channels: ['A'], data: true },
  { id: 'clay', label: 'clay', needs: 'own', group: 'light', channels: rgb, data: false },
  { id: 'lines', label: 'lines', needs: 'own', group: 'light', channels: ['Y'], data: false },
  { id: 'surroundings', label: 'surroundings', needs: 'apart', group: 'sources', channels: rgb, data: false },
  { id: 'sunlight', label: 'sunlight', needs: 'apart', group: 'sources', channels: rgb, data: false },
  { id: 'model-lights', label: 'model’s lights', needs: 'apart', group: 'sources', channels: rgb, data: false },
  lightPass(1),
  lightPass(2),
  lightPass(3),
  lightPass(4),
  lightPass(5),
  lightPass(6),
  lightPass(7),
  lightPass(8),
  { id: 'subject', label: 'subject', needs: 'apart', group: 'layers', channels: rgba, data: false },
  { id: 'ground-shadow', label: 'ground shadow', needs: 'apart', group: 'layers', channels: rgb, data: false },
  { id: 'ground', label: 'ground', needs: 'apart', group: 'layers', channels: rgba, data: false },
  { id: 'backdrop', label: 'backdrop', needs: 'apart', group: 'layers', channels: rgb, data: false },
] as const satisfies readonly Pass[];

/** Id of a pass. */
export type PassId = (typeof PASSES)[number]['id'];
/** Ids of all passes, in their order. */
export const PASS_IDS = PASSES.map((p) => p.id) as [PassId, ...PassId[]];

/** What passes are offered under, in this order. */
export const PASS_GROUPS = [
  { id: 'light', label: 'Renders' },
  { id: 'data', label: 'Data' },
  { id: 'sources', label: 'Light by source' },
  { id: 'layers', label: 'Layers' },
] as const satisfies readonly { id: Pass['group']; label: string }[];

/** Whether the passes of a group add up to the render only together. */
export function isTakenWhole(group: Pass['group']): boolean {
  return group === 'sources' || group === 'layers';
}

/** The pass of that id. */
export function passOf(id: PassId): Pass {
  return PASSES.find((p) => p.id === id)!;
}

/** Whether a pass covers only a part of the picture, and says which. */
export function hasAlpha(id: PassId): boolean {
  return passOf(id).channels.length === 4;
}

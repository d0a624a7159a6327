/** What every frame of a scene shares in kernel memory, and what is read off it. */
import type { mat4 } from 'gl-matrix';
import { type Bounds, radiusOf } from '../../core/math/bounds.js';
import type { Edges } from '../lines/edges.js';
import type { CompiledScene } from '../scene/compile.js';
import type { Kernel } from '../kernel.js';
import type { SkyMemory } from './environment.js';
import type { TextureAddresses } from './material.js';
import type { Views } from './memoryViews.js';

/** Lights of the stage and of the model. */
export const MAX_LIGHTS = 256;
/** A mesh in its place and its material. */
export interface Instance {
  part: number;
  path: string;
  mesh: number;
  material: number;
  world: mat4;
  bounds: Bounds;
  flags: number;
  /** Turns with the subject. */
  turns: boolean;
  label: number;
  /** Place in the list of the first instance of the same part, and how many there are. */
  first: number;
  count: number;
}

/** An instance where it stands in a frame, and its box there. */
export interface Placed {
  instance: Instance;
  world: mat4;
  bounds: Bounds;
}

/** What every frame of the scene shares. */
export interface SceneData {
  scene: CompiledScene;
  instances: Instance[];
  /** Instances whose triangles are drawn as lights. */
  shining: Instance[];
  shiningTriangles: number;
  subject: Bounds;
  views: Views;
  kernel: Kernel;
  image: number;
  meshes: number;
  materials: number;
  textures: TextureAddresses;
  /** The picture behind everything, where the scene was loaded with one: index of its texture, and its size. */
  backdrop?: { texture: number; width: number; height: number };
  energy: number;
  buildScratch: number;
  /** Record of the surround's image, or 0, and its mean luminance. */
  environment: number;
  environmentMean: number;
  /** Edges of meshes that frames with lines asked for, by mesh. */
  edges: Map<number, Edges>;
  skies: SkyMemory;
  /** Where everything stands as long as nothing turns. */
  standing: Placed[];
  /** Tables of the filters that frames asked for, by kind and width. */
  filters: Map<string, Float32Array>;
}

/** Radius of what stands in the scene's subject, metres; never 0. */
export function subjectRadius(data: SceneData): number {
  return Math.max(radiusOf(data.subject), 1e-6);
}

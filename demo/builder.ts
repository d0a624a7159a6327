/** Puts solids together to a model: finishes by name, parts in a tree. */
import {
  IDENTITY_TRS,
  DEFAULT_MATERIAL,
  type Material,
  type Model,
  type Part,
  computeWorldMatrices,
  IDENTITY_UV,
  VISIBLE_TO_ALL,
  assignPartPaths,
  type Texture,
} from '../src/core/model/model.js';
import { identity } from '../src/core/math/matrix.js';
import type { TextureSlot } from '../src/core/materials/material.js';
import { parseHex, type Rgb } from '../src/core/units/colour.js';
import type { Solid } from './shapes.js';

type MaterialValues = Partial<Omit<Material, 'base' | 'name' | 'emission'>> & { colour: string; emission?: Rgb };

/** Puts a demo model together. */
export class Builder {
  private readonly model: Model;

  constructor(name: string) {
    this.model = { name, meshes: [], materials: [], textures: [], parts: [], lights: [], curves: [], cameras: [], warnings: [] };
  }

  material(name: string, { colour, ...values }: MaterialValues): number {
    this.model.materials.push({ ...DEFAULT_MATERIAL, name, base: parseHex(colour), ...values });
    return this.model.materials.length - 1;
  }

  /** Takes a texture in; what a finish says to have it as its base colour, or in another slot. @param metres that the picture is wide. */
  texture(texture: Texture, slot: TextureSlot = 'base', metres = 1): Material['textures'] {
    this.model.textures.push(texture);
    const matrix = IDENTITY_UV.map((m) => m / metres) as typeof IDENTITY_UV;
    return { [slot]: { texture: this.model.textures.length - 1, matrix, mapping: 'first' } };
  }

  group(name: string, parent = -1, { renderVisible = true, isContext = false } = {}): number {
    this.model.parts.push({
      name,
      path: '',
      parent,
      place: IDENTITY_TRS,
      world: identity(),
      primitives: [],
      renderVisible,
      visible: VISIBLE_TO_ALL,
      isContext,
    });
    return this.model.parts.length - 1;
  }

  part(name: string, parent: number, material: number, solid: Solid): number {
    this.model.meshes.push(solid.mesh());
    return this.again(name, parent, material, this.model.meshes.length - 1, [0, 0, 0]);
  }

  /** The same mesh once more, moved and turned about the vertical by degrees. */
  again(name: string, parent: number, material: number, mesh: number, translation: [number, number, number], degrees = 0): number {
    const half = (degrees * Math.PI) / 360;
    const part: Part = {
      name,
      path: '',
      parent,
      world: identity(),
      primitives: [{ mesh, material }],
      place: { translation, rotation: [0, Math.sin(half), 0, Math.cos(half)], scale: [1, 1, 1] },
      renderVisible: this.model.parts[parent]?.renderVisible ?? true,
      visible: VISIBLE_TO_ALL,
      isContext: this.model.parts[parent]?.isContext ?? false,
    };
    this.model.parts.push(part);
    return this.model.parts.length - 1;
  }

  /** Mesh number for `again`, without placing it. */
  mesh(solid: Solid): number {
    this.model.meshes.push(solid.mesh());
    return this.model.meshes.length - 1;
  }

  build(): Model {
    assignPartPaths(this.model.parts);
    computeWorldMatrices(this.model.parts);
    return this.model;
  }
}

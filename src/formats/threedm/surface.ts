/** Materials of a 3DM file for three.js. */
import { Color, MeshPhysicalMaterial } from 'three';
import type { File3dm, ObjectAttributes, RhinoModule } from 'rhino3dm';

/** A colour as the library tells it. */
interface Rgba {
  r: number;
  g: number;
  b: number;
}

const hexOf = ({ r, g, b }: Rgba): string => `#${[r, g, b].map((v) => Math.round(v).toString(16).padStart(2, '0')).join('')}`;

/** A material of three.js; what of it is clear is decided with the other formats'. */
const made = (
  name: string,
  colour: Rgba,
  more: Partial<Record<'opacity' | 'roughness' | 'metalness' | 'ior', number>> = {},
): MeshPhysicalMaterial => {
  const material = new MeshPhysicalMaterial({ color: new Color(hexOf(colour)), roughness: 0.6, ...more });
  material.name = name;
  return material;
};

/** Materials of a file, each made once. */
export class Surfaces {
  private readonly kept = new Map<string, MeshPhysicalMaterial>();

  constructor(
    private readonly library: RhinoModule,
    private readonly file: File3dm,
  ) {}

  /** What an object wears: its own material, that of its layer, or the colour that it is drawn in. */
  of(attributes: ObjectAttributes): MeshPhysicalMaterial {
    const isOwn = attributes.materialSource === this.library.ObjectMaterialSource.MaterialFromObject;
    const layer = this.file.layers().get(attributes.layerIndex) as { renderMaterialIndex?: number } | null;
    const index = isOwn ? attributes.materialIndex : (layer?.renderMaterialIndex ?? -1);
    const drawn = (attributes as unknown as { drawColor(file: File3dm): Rgba }).drawColor(this.file);
    const key = index >= 0 ? `material ${index}` : hexOf(drawn);
    let kept = this.kept.get(key);
    if (!kept) this.kept.set(key, (kept = (index >= 0 ? this.material(index) : null) ?? made(`Colour ${hexOf(drawn)}`, drawn)));
    return kept;
  }

  private material(index: number): MeshPhysicalMaterial | null {
    const material = this.file.materials().get(index);
    if (!material) return null;
    const name = material.name || `Material ${index + 1}`;
    const physical = material.physicallyBased();
    if (physical.supported) {
      const { baseColor, roughness, metallic, opacity, opacityIOR } = physical as unknown as {
        baseColor: Rgba;
        roughness: number;
        metallic: number;
        opacity: number;
        opacityIOR: number;
      };
      // From 0 to 1; nothing says that they are linear, so they are taken as colours on screen.
      const scaled = { r: baseColor.r * 255, g: baseColor.g * 255, b: baseColor.b * 255 };
      return made(name, scaled, { roughness, metalness: metallic, opacity, ior: opacityIOR });
    }
    return made(name, material.diffuseColor as unknown as Rgba, { opacity: 1 - material.transparency, ior: Math.max(1, material.indexOfRefraction) });
  }
}

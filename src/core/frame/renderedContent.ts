/** What of a model a frame renders, as hashes: parts that stay out of the render, and materials that nothing of it wears, do not count. */
import { hashOf, sha256Text } from '../base/hash.js';
import { type CompiledAssignments, resolveMaterials } from '../materials/assignments.js';
import { libraryMaterial } from '../materials/library.js';

/** A model's content, part by part: read off its compiled scene. */
export interface ModelContent {
  parts: {
    path: string;
    renderVisible: boolean;
    isContext: boolean;
    /** Hash of its faces and lines, where they stand, and what kinds of rays meet them. */
    shape: string;
    /** Name and hash of the material of each of its groups of faces. */
    materials: { name: string; hash: string }[];
  }[];
  /** Hash of each of the model's own materials, with its textures, by name. */
  materials: Record<string, string>;
  /** Hash of its lights, and where they stand. */
  lights: string;
}

/** Hashes of what of the model reaches a frame. */
export interface RenderedContent {
  /** Shapes and lights. */
  model: string;
  /** What these shapes are made of. */
  materials: string;
}

/**
 * @param plinth name of the plinth's material, where the model stands on one.
 * Two frames that are equal otherwise have equal pixels where these hashes are equal.
 */
export function renderedContent(content: ModelContent, assignments: CompiledAssignments | undefined, plinth?: string): RenderedContent {
  const resolved =
    assignments &&
    resolveMaterials(
      content.parts.map((p) => ({ ...p, materials: p.materials.map((m) => m.name) })),
      assignments,
    );
  const shapes: string[] = [];
  const worn: string[] = [];
  const own = new Map(assignments?.materials.map((m) => [m.name, m]));
  const known = new Map<string, string>();
  /** As findMaterial looks: custom ones first, then the library's, then the model's. */
  const hashOfMaterial = (name: string): string => {
    let hash = known.get(name);
    if (hash === undefined) {
      const material = own.get(name) ?? libraryMaterial(name);
      known.set(name, (hash = material ? hashOf(material) : (content.materials[name] ?? '')));
    }
    return hash;
  };
  content.parts.forEach((part, i) => {
    const { renderVisible, isContext } = resolved?.[i] ?? part;
    if (!renderVisible) return;
    shapes.push(`${part.path}\n${isContext ? 1 : 0}${part.shape}`);
    // What the file puts on is the file's, whatever the library has under that name.
    worn.push(
      part.materials
        .map(({ hash }, k) => {
          const other = resolved?.[i]!.materials[k] ?? null;
          return other === null ? hash : hashOfMaterial(other);
        })
        .join(),
    );
  });
  if (plinth !== undefined) worn.push(`plinth ${hashOfMaterial(plinth)}`);
  return { model: sha256Text(`${content.lights}\n${shapes.join('\n')}`), materials: sha256Text(worn.join('\n')) };
}

/** Reads glTF 2.0: node tree, meshes, lines, materials with their textures, lights, cameras. */
import { fileStem } from '../../core/model/fileExtensions.js';
import { isContextNode, isRenderVisible, type NodeExtras } from '../../core/model/nodeExtras.js';
import type { Document, Material as GltfMaterial, Node, Primitive as GltfPrimitive, Texture as GltfTexture, TextureInfo } from '@gltf-transform/core';
import type { Light, Transform, Visibility as NodeVisibility } from '@gltf-transform/extensions';
import { identity } from '../../core/math/matrix.js';
import {
  IDENTITY_TRS,
  DEFAULT_MATERIAL,
  type Curve,
  type Material,
  type Mesh,
  type Model,
  type ModelCamera,
  type ModelLight,
  type Part,
  computeWorldMatrices,
  VISIBLE_TO_ALL,
  assignPartPaths,
  type Texture,
  type TextureUse,
} from '../../core/model/model.js';
import { pluralize } from '../../core/base/pluralize.js';
import type { Rgb } from '../../core/units/colour.js';
import { MAX_NESTING, TextureBudget } from '../budget.js';
import { ModelError, type SourceFile } from '../format.js';
import { dropDegenerate, droppedWarning } from '../degenerate.js';
import { discMesh, discsOf } from '../points/discs.js';
import { cloudNote } from '../points/model.js';
import { numbersOf, polylinePoints, unroll } from './primitives.js';
import { decodeTexture } from '../image/texture.js';
import { leftOutExtensions } from './extensions.js';
import { instanceParts } from './instancing.js';
import { readMaterial, textureMatrix } from './material.js';
import { poseDocument } from './pose.js';
import { makeIO, rejectUnsupportedExtensions } from './io.js';

/** What of a file's description is looked at before it is read. */
interface Description {
  buffers?: { uri?: string; byteLength?: number; extensions?: { EXT_meshopt_compression?: { fallback?: boolean } } }[];
  images?: { uri?: string }[];
  extensionsRequired?: unknown;
  extensionsUsed?: unknown;
}

/** Checks the container before anything is read: header, length, chunks, buffers. @returns its description. */
function checkContainer({ name, bytes }: SourceFile): Description {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20) throw new ModelError(`"${name}" is cut short: it ends within its header. Export or copy it again.`);
  const version = view.getUint32(4, true);
  if (version !== 2) throw new ModelError(`"${name}" is glTF ${version}; only version 2 can be read. Export it as glTF 2.0.`);
  const stated = view.getUint32(8, true);
  if (stated > bytes.length)
    throw new ModelError(`"${name}" is cut short: it should have ${stated} bytes and has ${bytes.length}. Export or copy it again.`);
  const jsonLength = view.getUint32(12, true);
  if (20 + jsonLength > bytes.length) throw new ModelError(`"${name}" is damaged: its description is longer than the file. Export it again.`);
  let json: Description;
  try {
    json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + jsonLength))) as Description;
  } catch {
    throw new ModelError(`"${name}" is damaged: its description cannot be read. Export it again.`);
  }
  rejectUnsupportedExtensions(name, json.extensionsRequired);
  (json.buffers ?? []).forEach((buffer, i) => {
    // The place of what is packed, for readers that cannot unpack it: it has no bytes.
    if (buffer.extensions?.EXT_meshopt_compression?.fallback === true) return;
    if (buffer.uri !== undefined && !buffer.uri.startsWith('data:')) {
      throw new ModelError(`"${name}" needs the file "${buffer.uri}", which is not in it. Export it as one GLB with everything embedded.`);
    }
    if (buffer.uri === undefined && (i > 0 || 20 + jsonLength + 8 + (buffer.byteLength ?? 0) > bytes.length + 3)) {
      throw new ModelError(`"${name}" lacks its buffer ${i}: the geometry is not in the file. Export it as one GLB with everything embedded.`);
    }
  });
  const lost = (json.images ?? []).find((image) => image.uri !== undefined && !image.uri.startsWith('data:'));
  if (lost) throw new ModelError(`"${name}" needs the texture "${lost.uri}", which is not in it. Export it as one GLB with everything embedded.`);
  return json;
}

const WRAPS: Record<number, Texture['wrapU']> = { 10497: 'repeat', 33071: 'clamp', 33648: 'mirror' };

class Reader {
  readonly meshes: Mesh[] = [];
  readonly materials: Material[] = [];
  readonly textures: Texture[] = [];
  readonly parts: Part[] = [];
  readonly lights: ModelLight[] = [];
  readonly curves: Curve[] = [];
  readonly cameras: ModelCamera[] = [];
  readonly warnings = new Set<string>();
  private readonly budget: TextureBudget;
  /** Triangles without area. */
  dropped = 0;
  /** Nodes that the file hides. */
  hidden = 0;
  private readonly linesOf = new Map<GltfPrimitive, number[]>();
  private readonly meshOf = new Map<GltfPrimitive, number>();
  private readonly finishOf = new Map<GltfMaterial | null, number>();
  private readonly textureOf = new Map<GltfTexture, number>();

  /** @param textures how many the document has. */
  constructor(textures: number) {
    this.budget = new TextureBudget(undefined, (line) => this.warnings.add(line), textures);
  }

  async use(texture: GltfTexture | null, info: TextureInfo | null): Promise<TextureUse | undefined> {
    if (!texture) return undefined;
    const transform = info?.getExtension<Transform>('KHR_texture_transform') ?? null;
    const set = transform?.getTexCoord() ?? info?.getTexCoord() ?? 0;
    if (set > 1)
      this.warnings.add(`The texture "${texture.getName()}" uses coordinates of set ${set + 1}; only two sets are read, and the first is used.`);
    const index = await this.texture(texture, info);
    return { texture: index, matrix: textureMatrix(transform), mapping: set === 1 ? 'second' : 'first' };
  }

  private async texture(texture: GltfTexture, info: TextureInfo | null): Promise<number> {
    const known = this.textureOf.get(texture);
    if (known !== undefined) return known;
    const bytes = texture.getImage();
    const name = texture.getName() || 'texture';
    if (!bytes) throw new ModelError(`The texture "${name}" is not in the file. Export it with its textures embedded.`);
    const image = await decodeTexture(name, bytes, this.budget);
    const index = this.textures.length;
    this.textures.push({ ...image, name, wrapU: WRAPS[info?.getWrapS() ?? 10497]!, wrapV: WRAPS[info?.getWrapT() ?? 10497]! });
    this.textureOf.set(texture, index);
    return index;
  }

  async material(material: GltfMaterial | null): Promise<number> {
    const known = this.finishOf.get(material);
    if (known !== undefined) return known;
    const index = this.materials.length;
    this.finishOf.set(material, index);
    this.materials.push({ ...DEFAULT_MATERIAL });
    if (material) {
      const use = (texture: GltfTexture | null, info: TextureInfo | null) => this.use(texture, info);
      this.materials[index] = await readMaterial(material, `Finish ${index + 1}`, use, (w) => this.warnings.add(w));
    }
    return index;
  }

  mesh(primitive: GltfPrimitive, name: string): number {
    const known = this.meshOf.get(primitive);
    if (known !== undefined) return known;
    const position = primitive.getAttribute('POSITION');
    const mode = primitive.getMode();
    if (!position || (mode > 0 && mode < 4)) {
      if (!position) this.warnings.add(`"${name}" has a mesh without positions, which was left out.`);
      this.meshOf.set(primitive, -1);
      return -1;
    }
    const floats = (semantic: string): Float32Array | undefined => {
      const accessor = primitive.getAttribute(semantic);
      return accessor ? numbersOf(accessor) : undefined;
    };
    const positions = floats('POSITION')!;
    const listed = primitive.getIndices()?.getArray();
    const given = listed ? Uint32Array.from(listed) : Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
    const { indices, dropped } =
      mode === 0 ? { indices: given, dropped: 0 } : dropDegenerate(positions, mode === 4 ? given : unroll(given, mode === 5));
    this.dropped += dropped;
    let mesh: Mesh = { positions, indices };
    const normals = floats('NORMAL');
    const uvs = floats('TEXCOORD_0');
    const second = floats('TEXCOORD_1');
    if (normals?.length === positions.length) mesh.normals = normals;
    if (uvs && uvs.length / 2 === positions.length / 3) mesh.uvs = uvs;
    if (second && second.length / 2 === positions.length / 3) mesh.secondUvs = second;
    const colour = primitive.getAttribute('COLOR_0');
    if (colour && colour.getCount() === positions.length / 3) {
      const size = colour.getElementSize();
      const all = floats('COLOR_0')!;
      mesh.colours = Float32Array.from({ length: positions.length }, (_, i) => all[Math.floor(i / 3) * size + (i % 3)]!);
    }
    if (primitive.listTargets().length > 0) this.warnings.add(`"${name}" has morph targets, all at 0; its base form is rendered.`);
    if (mode === 0) {
      const discs = discsOf(mesh);
      this.warnings.add(`"${name}": ${cloudNote(discs, positions.length / 3)}`);
      mesh = discMesh(discs);
    }
    const index = this.meshes.length;
    this.meshes.push(mesh);
    this.meshOf.set(primitive, index);
    return index;
  }

  /** Lines hang at parts of their own and stay out of the picture, unless the file says otherwise. */
  private lines(node: Node, part: Part, index: number): void {
    const list = (node.getMesh()?.listPrimitives() ?? []).filter((p) => p.getAttribute('POSITION') && p.getMode() > 0 && p.getMode() < 4);
    for (const primitive of list) {
      let points = this.linesOf.get(primitive);
      if (!points) this.linesOf.set(primitive, (points = polylinePoints(primitive)));
      const alone = part.primitives.length === 0 && list.length === 1;
      if (alone) part.renderVisible &&= (node.getExtras().renderVisible ?? node.getExtras().inPicture) === true;
      else this.parts.push({ ...part, name: 'Lines', parent: index, place: IDENTITY_TRS, world: identity(), primitives: [], renderVisible: false });
      this.curves.push({ part: alone ? index : this.parts.length - 1, points });
    }
  }

  async node(node: Node, parent: number, shown: boolean, around: boolean, seenAs = VISIBLE_TO_ALL, depth = 0): Promise<void> {
    if (depth > MAX_NESTING) throw new ModelError(`Its parts are nested more than ${MAX_NESTING} deep; flatten the tree before exporting.`);
    // Helpers say so in their extras; what hangs below them is out of the picture with them.
    const extras = node.getExtras() as NodeExtras & { camera?: unknown; shadow?: unknown; reflection?: unknown };
    const visible = node.getExtension<NodeVisibility>('KHR_node_visibility')?.getVisible() ?? true;
    if (!visible) this.hidden++;
    const renderVisible = shown && visible && isRenderVisible(extras);
    const isContext = around || isContextNode(extras);
    const index = this.parts.length;
    const part: Part = {
      name: node.getName() || node.getMesh()?.getName() || `Part ${index + 1}`,
      path: '',
      parent,
      place: { translation: node.getTranslation(), rotation: node.getRotation(), scale: node.getScale() },
      world: identity(),
      primitives: [],
      renderVisible,
      visible: {
        camera: seenAs.camera && extras.camera !== false,
        shadow: seenAs.shadow && extras.shadow !== false,
        reflection: seenAs.reflection && extras.reflection !== false,
      },
      isContext,
    };
    this.parts.push(part);
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      const mesh = this.mesh(primitive, part.name);
      if (mesh >= 0) part.primitives.push({ mesh, material: await this.material(primitive.getMaterial()) });
    }
    this.parts.push(...instanceParts(node, part, index));
    this.lines(node, part, index);
    const light = node.getExtension<Light>('KHR_lights_punctual');
    if (light) {
      const intensity = light.getColor().map((c) => Math.fround(c * light.getIntensity())) as Rgb;
      this.lights.push({ part: index, kind: light.getType(), intensity, inner: light.getInnerConeAngle(), outer: light.getOuterConeAngle() });
    }
    const camera = node.getCamera();
    if (camera) {
      const lens: ModelCamera['lens'] =
        camera.getType() === 'orthographic'
          ? { kind: 'parallel', xmag: camera.getXMag(), ymag: camera.getYMag() }
          : { kind: 'perspective', yfov: camera.getYFov(), aspect: camera.getAspectRatio() };
      this.cameras.push({ part: index, name: camera.getName() || part.name, lens });
    }
    for (const child of node.listChildren()) await this.node(child, index, renderVisible, isContext, part.visible, depth + 1);
  }
}

/** The model that a parsed document is. Throws ModelError. @param used names of the extensions that its file uses. */
export async function readDocument(document: Document, name: string, used: unknown): Promise<Model> {
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  if (!scene) throw new ModelError(`"${name}" has no scene; export it with its objects.`);
  const reader = new Reader(root.listTextures().length);
  for (const line of poseDocument(document)) reader.warnings.add(line);
  for (const node of scene.listChildren()) await reader.node(node, -1, true, false);
  assignPartPaths(reader.parts);
  computeWorldMatrices(reader.parts);
  const { meshes, materials, textures, parts, lights, curves, cameras, warnings } = reader;
  if (reader.dropped > 0) warnings.add(droppedWarning(reader.dropped));
  if (reader.hidden > 0) warnings.add(`${pluralize(reader.hidden, 'hidden node')} of the file, with what is below, not rendered.`);
  for (const line of leftOutExtensions(document, used)) warnings.add(line);
  return { name: fileStem(name), meshes, materials, textures, parts, lights, curves, cameras, warnings: [...warnings] };
}

/** Reads a model. @throws where the container is cut off or no GLB. */
export async function read(file: SourceFile): Promise<Model> {
  const { extensionsUsed } = checkContainer(file);
  const io = await makeIO(extensionsUsed);
  return readDocument(await io.readBinary(file.bytes), file.name, extensionsUsed);
}

/**
 * Reads IFC 2x3 and 4 through web-ifc: the tree of project, site, building and storeys, names, colours,
 * repeated shapes as instances. Spaces and openings are read as out of picture: they are not built. The
 * file states its unit; +Z is up in IFC, and web-ifc turns it to +Y.
 */
import type { FlatMesh, IfcAPI } from 'web-ifc';
import type { Mesh, Model } from '../../core/model/model.js';
import { type Rgb, toLinear } from '../../core/units/colour.js';
import { ModelError, type SourceFile } from '../format.js';
import { ModelBuilder, isAligned, transformMesh, MAX_SEARCHED, decomposeMatrix } from '../modelBuilder.js';
import { Part21 } from '../part21/part21.js';
import { ifcLines } from './lines.js';

interface TreeNode {
  expressID: number;
  type: string;
  children: TreeNode[];
}

interface Line {
  Name?: { value?: string } | null;
  LongName?: { value?: string } | null;
}

interface Library {
  api: IfcAPI;
  /** Kinds of element that are not built. */
  notBuilt: number[];
}

let ready: Promise<Library> | null = null;

/** The library takes most of a second to load, so it is loaded when it is asked for. */
function library(): Promise<Library> {
  ready ??= (async () => {
    const { IfcAPI: Api, IFCOPENINGELEMENT, IFCOPENINGSTANDARDCASE, IFCSPACE, LogLevel } = await import('web-ifc');
    const api = new Api();
    await api.Init(undefined, true);
    api.SetLogLevel(LogLevel.LOG_LEVEL_OFF);
    return { api, notBuilt: [IFCSPACE, IFCOPENINGELEMENT, IFCOPENINGSTANDARDCASE] };
  })();
  return ready;
}

/** Six floats a vertex, place and normal, as the library has them. */
function meshFrom(api: IfcAPI, model: number, id: number): Mesh | null {
  const geometry = api.GetGeometry(model, id);
  const vertices = api.GetVertexArray(geometry.GetVertexData(), geometry.GetVertexDataSize());
  const indices = Uint32Array.from(api.GetIndexArray(geometry.GetIndexData(), geometry.GetIndexDataSize()));
  geometry.delete();
  if (indices.length < 3) return null;
  const count = vertices.length / 6;
  const mesh: Mesh = { positions: new Float32Array(count * 3), normals: new Float32Array(count * 3), indices };
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < 3; k++) {
      mesh.positions[i * 3 + k] = vertices[i * 6 + k]!;
      mesh.normals![i * 3 + k] = vertices[i * 6 + 3 + k]!;
    }
  }
  return mesh;
}

interface Shape {
  geometry: number;
  material: number;
  matrix: number[];
}

class IfcReader {
  readonly gather = new ModelBuilder();
  private readonly shapes = new Map<number, Shape[]>();
  private readonly meshes = new Map<number, number | null>();
  private readonly drawn = new Set<number>();
  private readonly hidden = new Set<number>();

  constructor(
    private readonly api: IfcAPI,
    private readonly model: number,
    private readonly notBuilt: number[],
  ) {}

  /** Takes every element's shapes; the tree comes after. */
  private collect(): void {
    const note = (flat: FlatMesh, built: boolean): void => {
      const list: Shape[] = [];
      for (let i = 0; i < flat.geometries.size(); i++) {
        const { color, geometryExpressID, flatTransformation } = flat.geometries.get(i);
        const base = [color.x, color.y, color.z].map((c) => toLinear(c)) as Rgb;
        const key = [...base, color.w].map((c) => c.toFixed(4)).join();
        const clear = color.w < 0.9;
        const word = [color.x, color.y, color.z]
          .map((c) =>
            Math.round(c * 255)
              .toString(16)
              .padStart(2, '0'),
          )
          .join('');
        const material = this.gather.material(key, () => ({
          name: clear ? `Clear #${word}` : `Colour #${word}`,
          base: clear ? (base.map((c) => Math.sqrt(c)) as Rgb) : base,
          roughness: clear ? 0.02 : 0.6,
          transmission: clear ? 1 : 0,
          thin: clear,
        }));
        // The library lets go of shapes when the stream is over, so they are taken now; some are empty.
        if (this.meshOf(geometryExpressID) !== null) list.push({ geometry: geometryExpressID, material, matrix: [...flatTransformation] });
      }
      if (list.length > 0) this.shapes.set(flat.expressID, list);
      if (!built) this.hidden.add(flat.expressID);
    };
    this.api.StreamAllMeshes(this.model, (flat) => note(flat, true));
    this.api.StreamAllMeshesWithTypes(this.model, this.notBuilt, (flat) => note(flat, false));
  }

  private nameOf(id: number, type: string): string {
    let line: Line = {};
    try {
      line = this.api.GetLine(this.model, id) as Line;
    } catch {
      // A line that cannot be read still has its place in the tree.
    }
    const own = line.Name?.value?.trim() || line.LongName?.value?.trim();
    const kind = type.replace(/^IFC/i, '').toLowerCase();
    return own || `${kind[0]?.toUpperCase() ?? ''}${kind.slice(1)} ${id}`;
  }

  private meshOf(id: number): number | null {
    let number = this.meshes.get(id);
    if (number === undefined) {
      const mesh = meshFrom(this.api, this.model, id);
      number = mesh && this.gather.mesh(mesh);
      this.meshes.set(id, number);
    }
    return number;
  }

  private draw(id: number, own: number): void {
    const list = this.shapes.get(id) ?? [];
    this.drawn.add(id);
    if (this.hidden.has(id)) this.gather.parts[own]!.renderVisible = false;
    const groups = new Map<string, Shape[]>();
    for (const s of list) {
      const key = s.matrix.map((v) => v.toPrecision(9)).join();
      groups.set(key, [...(groups.get(key) ?? []), s]);
    }
    for (const shapes of groups.values()) {
      const { matrix } = shapes[0]!;
      const place = decomposeMatrix(matrix);
      const at = groups.size === 1 ? own : this.gather.part('Body', own, { renderVisible: !this.hidden.has(id) });
      if (place) this.gather.parts[at]!.place = place;
      for (const s of shapes) {
        const mesh = this.meshOf(s.geometry);
        if (mesh === null) continue;
        const number = place ? mesh : this.gather.mesh(transformMesh(this.gather.meshes[mesh]!, matrix));
        this.gather.parts[at]!.primitives.push({ mesh: number, material: s.material });
      }
    }
  }

  /** An element that stands in a storey, with what it is made of below it (a stair of flights). */
  private add(node: TreeNode, parent: number): void {
    const own = this.gather.part(this.nameOf(node.expressID, node.type), parent);
    const { parts } = this.gather;
    if (node.children.length === 0) this.draw(node.expressID, own);
    else {
      // The ground that a site has is no part of what is designed: it stands beside it, as surroundings do.
      const ground = /^IfcSite$/i.test(node.type) ? parts.length : null;
      // Places are the world's, so what has parts below it keeps none of its own.
      if (this.shapes.has(node.expressID))
        this.draw(node.expressID, this.gather.part(ground === null ? 'Body' : `Ground of ${parts[own]!.name}`, ground === null ? own : -1));
      if (ground !== null) for (const part of parts.slice(ground)) part.isContext = true;
      for (const child of node.children) this.add(child, own);
    }
    if (this.hidden.has(node.expressID)) parts[own]!.renderVisible = false;
  }

  async read(name: string, text: Part21 | null): Promise<Model> {
    this.collect();
    const root = (await this.api.properties.getSpatialStructure(this.model)) as TreeNode;
    this.add(root, -1);
    // Openings stand in no storey, and some writers leave elements out of the tree.
    const rest = [...this.shapes.keys()].filter((id) => !this.drawn.has(id));
    const groups = { Openings: rest.filter((id) => this.hidden.has(id)), 'In no storey': rest.filter((id) => !this.hidden.has(id)) };
    for (const [title, ids] of Object.entries(groups)) {
      if (ids.length === 0) continue;
      const group = this.gather.part(title, 0);
      for (const id of ids)
        this.draw(id, this.gather.part(this.nameOf(id, String(this.api.GetNameFromTypeCode(this.api.GetLineType(this.model, id) as number))), group));
    }
    if (groups['In no storey'].length > 0)
      this.gather.warnings.add(`${groups['In no storey'].length} elements are in no storey; they are listed under "In no storey".`);
    if (this.hidden.size > 0) this.gather.warnings.add(`${this.hidden.size} spaces and openings are read, but not rendered.`);
    this.lines(text);
    return this.gather.model(name);
  }

  /** Annotations, axes and footprints go with the others of their name: places of parts are the world's. */
  private lines(text: Part21 | null): void {
    if (!text) {
      this.gather.warnings.add('Lines and annotations are not read of files above 64 MB.');
      return;
    }
    const found = ifcLines(text);
    if (found.length === 0) return;
    const group = this.gather.part('Lines', 0, { renderVisible: false });
    const below = new Map<string, number>();
    for (const { element, name, points } of found) {
      let parent = below.get(name);
      if (parent === undefined) below.set(name, (parent = this.gather.part(name, group, { renderVisible: false })));
      const type = String(this.api.GetNameFromTypeCode(this.api.GetLineType(this.model, element) as number));
      this.gather.lines(this.nameOf(element, type), parent, isAligned(points));
    }
  }
}

/** Reads a building. @throws where the file is cut off or holds nothing to be seen. */
export async function read(file: SourceFile): Promise<Model> {
  const { name, bytes } = file;
  const end = new TextDecoder('latin1').decode(bytes.subarray(-400));
  if (!/END-ISO-10303-21\s*;/.test(end))
    throw new ModelError(`"${name}" is cut short: it does not end as an IFC file does. Export or copy it again.`);
  // The library can go round for ever in a file whose statements do not end where they should.
  const text = bytes.length <= MAX_SEARCHED ? new Part21(new TextDecoder('latin1').decode(bytes)) : null;
  const damaged = text?.damaged() ?? null;
  if (damaged !== null) throw new ModelError(`"${name}" is damaged: its entity #${damaged} has brackets that do not close. Export or copy it again.`);
  const { api, notBuilt } = await library();
  const model = api.OpenModel(bytes, { COORDINATE_TO_ORIGIN: false });
  if (model < 0) throw new ModelError(`"${name}" could not be opened as IFC; export it as IFC 2x3 or IFC 4.`);
  try {
    return await new IfcReader(api, model, notBuilt).read(name, text);
  } finally {
    api.CloseModel(model);
  }
}

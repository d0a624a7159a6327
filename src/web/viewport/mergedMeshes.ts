/**
 * Draws a model of very many parts in a few calls: parts that have the same material are one geometry. The parts'
 * own meshes stay as they are, for picking and for assigning materials, and are not drawn.
 */
import { BufferAttribute, BufferGeometry, Group, type Line, type Material, Matrix3, type Matrix4, Mesh, type Object3D, Vector3 } from 'three';

/** A scene of fewer meshes is drawn one by one. */
export const MANY_MESHES = 1500;
/** A geometry of more vertices would fill the memory of a small graphics card: instances are better drawn one by one. */
const MAX_VERTICES = 8_000_000;

interface Member {
  mesh: Mesh;
  /** To the space of the group. */
  matrix: Matrix4;
}

interface Batch {
  object: Mesh;
  members: Member[];
  geometries: BufferGeometry[];
  /** Of each member, where its triangles stand in the whole list. */
  spans: [number, number][];
  whole: Uint32Array;
}

/** The material that a part has, whether it is marked or not. */
export const plainOf = (mesh: Mesh): Material => (mesh.userData.plain ?? mesh.material) as Material;

function addMember(from: BufferAttribute, into: Float32Array, at: number, turn: (v: Vector3) => void): void {
  const v = new Vector3();
  for (let i = 0; i < from.count; i++) {
    turn(v.fromBufferAttribute(from, i));
    v.toArray(into, (at + i) * 3);
  }
}

/** One geometry of all the members, moved to where they stand. */
function batchOf(members: Member[], material: Material): Batch {
  const countOf = ({ mesh: { geometry: g } }: Member): [number, number] => {
    const vertices = g.getAttribute('position').count;
    return [vertices, g.index?.count ?? vertices];
  };
  let [vertices, corners] = [0, 0];
  for (const [v, c] of members.map(countOf)) [vertices, corners] = [vertices + v, corners + c];
  const first = members[0]!.mesh.geometry;
  const positions = new Float32Array(vertices * 3);
  const normals = first.getAttribute('normal') ? new Float32Array(vertices * 3) : null;
  const uvs = first.getAttribute('uv') ? new Float32Array(vertices * 2) : null;
  const whole = new Uint32Array(corners);
  const spans: [number, number][] = [];
  const across = new Matrix3();
  let [at, to] = [0, 0];
  for (const member of members) {
    const { geometry: g } = member.mesh;
    const [v, c] = countOf(member);
    addMember(g.getAttribute('position') as BufferAttribute, positions, at, (p) => p.applyMatrix4(member.matrix));
    across.getNormalMatrix(member.matrix);
    if (normals) addMember(g.getAttribute('normal') as BufferAttribute, normals, at, (n) => n.applyMatrix3(across).normalize());
    const uv = g.getAttribute('uv');
    if (uvs) for (let i = 0; i < v; i++) [uvs[(at + i) * 2], uvs[(at + i) * 2 + 1]] = [uv.getX(i), uv.getY(i)];
    for (let i = 0; i < c; i++) whole[to + i] = at + (g.index ? g.index.getX(i) : i);
    spans.push([to, to + c]);
    at += v;
    to += c;
  }
  const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(positions, 3)).setIndex(new BufferAttribute(whole.slice(), 1));
  if (normals) geometry.setAttribute('normal', new BufferAttribute(normals, 3));
  if (uvs) geometry.setAttribute('uv', new BufferAttribute(uvs, 2));
  const object = new Mesh(geometry, material);
  object.userData.batch = true;
  object.castShadow = members[0]!.mesh.castShadow;
  object.receiveShadow = true;
  // A ray asks the parts themselves.
  object.raycast = () => undefined;
  return { object, members, geometries: members.map((m) => m.mesh.geometry), spans, whole };
}

/** Draws those of the members that are shown. */
function show({ object, members, spans, whole }: Batch, shows: (member: Member) => boolean): void {
  const index = object.geometry.index!;
  const list = index.array as Uint32Array;
  let end = 0;
  members.forEach((m, i) => {
    if (!shows(m)) return;
    const [from, to] = spans[i]!;
    list.set(whole.subarray(from, to), end);
    end += to - from;
  });
  index.needsUpdate = true;
  object.geometry.setDrawRange(0, end);
  object.visible = end > 0;
}

function same(batch: Batch | undefined, members: Member[]): batch is Batch {
  return batch?.members.length === members.length && members.every((m, i) => m === batch.members[i] && m.mesh.geometry === batch.geometries[i]);
}

/** Parts drawn together, where there are too many to draw one by one. */
export class MergedMeshes {
  /** Stands beside the parts, in the same space. */
  readonly group = new Group();
  private readonly members: Member[] = [];
  private batches = new Map<string, Batch>();
  private marked = new Map<string, Batch>();
  private readonly memberOf = new Map<Object3D, Member>();

  /** `parts` holds the meshes; where it stands in the world must be known by then. Null where there are too many vertices. */
  static of(parts: Group): MergedMeshes | null {
    let vertices = 0;
    parts.traverse((object) => {
      if ((object as Mesh).isMesh) vertices += (object as Mesh).geometry.getAttribute('position').count;
    });
    return vertices > MAX_VERTICES ? null : new MergedMeshes(parts);
  }

  private constructor(readonly parts: Group) {
    const back = parts.matrixWorld.clone().invert();
    const lines: Object3D[] = [];
    parts.traverse((object) => {
      const mesh = object as Mesh;
      if (mesh.isMesh) {
        const member = { mesh, matrix: back.clone().multiply(mesh.matrixWorld) };
        this.members.push(member);
        this.memberOf.set(mesh, member);
      } else if ((object as Line).isLine) lines.push(object);
    });
    parts.visible = false;
    // They are not drawn, so they need not be moved before every drawing.
    parts.updateMatrixWorld = () => undefined;
    // Lines are few, or hidden; they stand where they stood.
    for (const line of lines) {
      line.matrix.copy(back).multiply(line.matrixWorld);
      line.matrixAutoUpdate = false;
      this.group.add(line);
    }
  }

  /** Follows the parts' materials and visibility. */
  sync(): void {
    this.batches = this.follow(this.batches, this.members, plainOf, (m) => m.mesh.visible);
  }

  /** Moves the parts to where their group stands now, for whoever asks them. */
  settle(): void {
    const { parent } = this.parts;
    // They stand in their group as it is, so where both stand is the same once they have followed.
    if (parent && !parent.matrixWorld.equals(this.parts.matrixWorld)) Group.prototype.updateMatrixWorld.call(this.parts, true);
  }

  /** Draws these once more in the material that they have now, over the merged ones: equal places are equally deep, and the later wins. */
  mark(meshes: readonly Mesh[]): void {
    const members = meshes.map((m) => this.memberOf.get(m)).filter((m): m is Member => m !== undefined && m.mesh.visible);
    this.marked = this.follow(
      this.marked,
      members,
      (mesh) => mesh.material as Material,
      () => true,
    );
    for (const { object } of this.marked.values()) object.renderOrder = 1;
  }

  private follow(
    known: Map<string, Batch>,
    members: Member[],
    materialOf: (mesh: Mesh) => Material,
    shows: (member: Member) => boolean,
  ): Map<string, Batch> {
    const wanted = new Map<string, Member[]>();
    for (const member of members) {
      const { geometry, castShadow } = member.mesh;
      const key = [materialOf(member.mesh).uuid, castShadow, geometry.hasAttribute('normal'), geometry.hasAttribute('uv')].join('/');
      const list = wanted.get(key);
      if (list) list.push(member);
      else wanted.set(key, [member]);
    }
    const next = new Map<string, Batch>();
    for (const [key, list] of wanted) {
      const old = known.get(key);
      const batch = same(old, list) ? old : batchOf(list, materialOf(list[0]!.mesh));
      next.set(key, batch);
      show(batch, shows);
    }
    for (const [key, batch] of known) {
      if (next.get(key) === batch) continue;
      this.group.remove(batch.object);
      batch.object.geometry.dispose();
    }
    for (const batch of next.values()) this.group.add(batch.object);
    return next;
  }
}

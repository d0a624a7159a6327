import { BoxGeometry, Group, Mesh, MeshBasicMaterial } from 'three';
import { describe, expect, it } from 'vitest';
import { MergedMeshes } from './mergedMeshes.js';

const red = new MeshBasicMaterial();
const blue = new MeshBasicMaterial();
const highlighted = new MeshBasicMaterial();

function scene(): { parts: Group; meshes: Mesh[]; batches: MergedMeshes } {
  const parts = new Group();
  const box = new BoxGeometry(1, 1, 1);
  const meshes = Array.from({ length: 6 }, (_, i) => {
    const mesh = new Mesh(box, i < 4 ? red : blue);
    mesh.position.set(i * 2, 0, 0);
    mesh.scale.set(1, 1 + i, 1);
    parts.add(mesh);
    return mesh;
  });
  parts.updateMatrixWorld(true);
  const batches = MergedMeshes.of(parts)!;
  batches.sync();
  return { parts, meshes, batches };
}

const drawn = (batches: MergedMeshes) =>
  batches.group.children.map((c) => {
    const { geometry, material, visible } = c as Mesh;
    return { material, triangles: visible ? geometry.drawRange.count / 3 : 0 };
  });

describe('batches', () => {
  it('draw every part once, by material, where it stands', () => {
    const { parts, batches } = scene();
    expect(parts.visible).toBe(false);
    expect(drawn(batches)).toEqual([
      { material: red, triangles: 4 * 12 },
      { material: blue, triangles: 2 * 12 },
    ]);
    const { geometry } = batches.group.children[0] as Mesh;
    geometry.computeBoundingBox();
    expect(geometry.boundingBox!.min.toArray()).toEqual([-0.5, -2, -0.5]);
    expect(geometry.boundingBox!.max.toArray()).toEqual([6.5, 2, 0.5]);
    // Normals stay of length one under a scale.
    const n = geometry.getAttribute('normal');
    for (let i = 0; i < n.count; i++) expect(Math.hypot(n.getX(i), n.getY(i), n.getZ(i))).toBeCloseTo(1, 6);
  });

  it('leave out what is hidden, and draw over it what is marked', () => {
    const { meshes, batches } = scene();
    const [first] = batches.group.children;
    meshes[1]!.visible = false;
    Object.assign(meshes[2]!.userData, { plain: red });
    meshes[2]!.material = highlighted;
    batches.sync();
    const { version } = (batches.group.children[1] as Mesh).geometry.index!;
    batches.mark([meshes[2]!, meshes[1]!]);
    expect(drawn(batches)).toEqual([
      { material: red, triangles: 3 * 12 },
      { material: blue, triangles: 2 * 12 },
      { material: highlighted, triangles: 12 },
    ]);
    expect(batches.group.children[2]!.renderOrder).toBe(1);
    // What was built is kept: only the list of triangles changed, and marking sends none of it again.
    expect(batches.group.children[0]).toBe(first);
    expect((batches.group.children[1] as Mesh).geometry.index!.version).toBe(version);
    const { geometry } = first as Mesh;
    const used = new Set(Array.from(geometry.index!.array.slice(0, geometry.drawRange.count), (v) => Math.floor(v / 24)));
    expect([...used].sort()).toEqual([0, 2, 3]);
    meshes[2]!.material = red;
    meshes[1]!.visible = true;
    batches.sync();
    batches.mark([]);
    expect(drawn(batches).map((d) => d.triangles)).toEqual([48, 24]);
  });

  it('let their parts stand still until they are asked, and then have them where the group stands, whoever moved them before', () => {
    const { parts, meshes, batches } = scene();
    const subject = new Group();
    subject.add(parts);
    const at = (): number => meshes[1]!.matrixWorld.elements[12]!;
    const move = (x: number): void => {
      subject.position.x = x;
      subject.updateMatrixWorld(true);
    };
    move(10);
    expect(at()).toBe(2);
    batches.settle();
    expect(at()).toBe(12);
    // A box was measured elsewhere in between, and the group came back.
    move(20);
    subject.updateWorldMatrix(false, true);
    move(10);
    batches.settle();
    expect(at()).toBe(12);
  });

  it('follow a part into another material', () => {
    const { meshes, batches } = scene();
    meshes[0]!.material = blue;
    batches.sync();
    expect(drawn(batches).map((d) => d.triangles)).toEqual([3 * 12, 3 * 12]);
  });
});

/** Scenes made by code, for benchmarks and for tests of light transport. */
import { MeshMaker, sphere, modelOf } from '../src/core/model/meshMaker.js';
import { type Material, type Mesh, type Model, computeWorldMatrices } from '../src/core/model/model.js';

/**
 * A closed hall, 20 × 6 × 30 m, with rows of columns and coffers; `detail` divides each face. At
 * 16 it has about 200 000 triangles. Walls stand along the axes on purpose: they make directions
 * with zero components.
 */
export function closedHall(detail: number, material: Partial<Material> = {}): Model {
  const shell = new MeshMaker().box([-10, 0, -15], [10, 6, 15], detail * 4, true);
  const columns = new MeshMaker();
  for (let i = 0; i < 6; i++) {
    for (const x of [-6, -2, 2, 6]) columns.box([x - 0.3, 0, -13 + i * 5], [x + 0.3, 5, -12.4 + i * 5], detail);
  }
  const coffers = new MeshMaker();
  for (let i = 0; i < 7; i++) coffers.box([-10, 5, -14 + i * 4.5], [10, 5.5, -13.6 + i * 4.5], detail * 2);
  const panels = new MeshMaker();
  for (let i = 0; i < 6; i++) panels.quad([-1.5, 5.9, -12 + i * 4.5], [3, 0, 0], [0, 0, 1.2], 1, 1);
  const wall = { base: [0.7, 0.7, 0.7] as [number, number, number], specular: 0, ...material };
  return modelOf('hall', [
    { mesh: shell.mesh(), material: wall },
    { mesh: columns.mesh(), material: { ...wall, base: [0.5, 0.6, 0.7] } },
    { mesh: coffers.mesh(), material: { ...wall, base: [0.6, 0.5, 0.4] } },
    { mesh: panels.mesh(), material: { ...wall, base: [0, 0, 0], emission: [12, 11, 10] } },
  ]);
}

/** A sphere displaced by waves, about n² triangles. */
export function displacedSphere(n: number): Model {
  const mesh = sphere(n, (x, y, z) => 1 + 0.05 * Math.sin(17 * x) * Math.sin(13 * y) * Math.sin(11 * z) + 0.01 * Math.sin(90 * x + 60 * y));
  return modelOf('displaced sphere', [{ mesh }]);
}

/** All triangles of a model in one mesh, in the world. */
export function merged(model: Model): Mesh {
  const positions: number[] = [];
  const indices: number[] = [];
  for (const mesh of model.meshes) {
    const first = positions.length / 3;
    for (const v of mesh.positions) positions.push(v);
    for (const i of mesh.indices) indices.push(first + i);
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

/** A conifer of boughs in layers, about 25 000 triangles. */
function conifer(): Mesh {
  const maker = new MeshMaker();
  maker.box([-0.12, 0, -0.12], [0.12, 8, 0.12], 4);
  for (let layer = 0; layer < 40; layer++) {
    const y = 1 + layer * 0.18;
    const reach = 2.4 * (1 - layer / 42);
    for (let k = 0; k < 12; k++) {
      const a = (k / 12) * 2 * Math.PI + layer * 0.7;
      const [x, z] = [Math.cos(a) * reach, Math.sin(a) * reach];
      maker.quad([-z * 0.08, y + 0.2, x * 0.08], [x, -0.5, z], [z * 0.16, 0, -x * 0.16], 13, 2);
    }
  }
  return maker.mesh();
}

/** 45 × 45 conifers of one mesh on a plain, turned and scaled each its own way: about 50 million triangles as seen. */
export function forest(): Model {
  const tree = conifer();
  const ground = new MeshMaker().quad([-200, 0, -200], [0, 0, 400], [400, 0, 0], 8, 8).mesh();
  const model = modelOf('forest', [
    { mesh: ground, material: { base: [0.35, 0.33, 0.28], specular: 0 } },
    { mesh: tree, material: { base: [0.1, 0.22, 0.1], specular: 0 } },
  ]);
  const [plain, one] = model.parts;
  const side = 45;
  const parts = Array.from({ length: side * side }, (_, i) => {
    const [x, z] = [i % side, Math.floor(i / side)];
    // Any spread that repeats will do: thirds of the golden ratio's multiples.
    const [p, q] = [(i * 0.6180339887) % 1, (i * 0.7548776662) % 1];
    const scale = 0.8 + 0.5 * p;
    const turn = q * Math.PI;
    const place = {
      translation: [(x - side / 2 + 0.6 * p) * 5, 0, (z - side / 2 + 0.6 * q) * 5] as [number, number, number],
      rotation: [0, Math.sin(turn), 0, Math.cos(turn)] as [number, number, number, number],
      scale: [scale, scale, scale] as [number, number, number],
    };
    return { ...one!, name: `conifer ${i + 1}`, path: `conifer ${i + 1}`, place };
  });
  model.parts = [plain!, ...parts];
  computeWorldMatrices(model.parts);
  return model;
}

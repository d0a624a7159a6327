/** A lighter form of points that are drawn as discs: fewer of them, each one triangle, which cover as much together. */
import type { Mesh } from '../../core/model/model.js';

/** Corners of a disc, and the triangles between them: a fan about the first corner. */
const CORNERS = 6;
const FAN = [0, 1, 2, 0, 2, 3, 0, 3, 4, 0, 4, 5];

/** Whether a mesh is hexagons that share nothing, one after the other, as points are drawn. */
export function isOfDiscs({ positions, indices }: Mesh): boolean {
  const count = indices.length / FAN.length;
  return (
    Number.isInteger(count) &&
    count > 0 &&
    positions.length === count * CORNERS * 3 &&
    indices.every((v, i) => v === Math.floor(i / FAN.length) * CORNERS + FAN[i % FAN.length]!)
  );
}

/** So many of the discs of a mesh at most, spread over all of them, as triangles that cover as much. */
export function fewerDiscs(mesh: Mesh, most: number): Mesh {
  const count = mesh.indices.length / FAN.length;
  const step = Math.max(1, Math.ceil(count / most));
  const kept = Math.ceil(count / step);
  // Every other corner is a triangle of half of the hexagon.
  const scale = Math.sqrt(2 * step);
  const pick = (list: Float32Array): Float32Array => {
    const out = new Float32Array(kept * 9);
    for (let i = 0; i < kept; i++)
      for (let corner = 0; corner < 3; corner++)
        for (let k = 0; k < 3; k++) out[9 * i + 3 * corner + k] = list[(i * step * CORNERS + 2 * corner) * 3 + k]!;
    return out;
  };
  const positions = pick(mesh.positions);
  for (let i = 0; i < positions.length; i += 9)
    for (let k = 0; k < 3; k++) {
      const middle = (positions[i + k]! + positions[i + 3 + k]! + positions[i + 6 + k]!) / 3;
      for (let corner = 0; corner < 3; corner++) positions[i + 3 * corner + k] = middle + scale * (positions[i + 3 * corner + k]! - middle);
    }
  return {
    positions,
    indices: Uint32Array.from({ length: 3 * kept }, (_, i) => i),
    ...(mesh.normals && { normals: pick(mesh.normals) }),
    ...(mesh.colours && { colours: pick(mesh.colours) }),
  };
}

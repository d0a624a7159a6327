/** A lighter form of points that are drawn as discs: fewer of them, each one triangle, which cover as much together. */
import type { Mesh } from '../../core/model/model.js';
import { DISC_CORNERS, DISC_FAN } from '../../formats/points/discs.js';

/** Whether a mesh is hexagons that share nothing, one after the other, as points are drawn. */
export function isOfDiscs({ positions, indices }: Mesh): boolean {
  const count = indices.length / DISC_FAN.length;
  return (
    Number.isInteger(count) &&
    count > 0 &&
    positions.length === count * DISC_CORNERS * 3 &&
    indices.every((v, i) => v === Math.floor(i / DISC_FAN.length) * DISC_CORNERS + DISC_FAN[i % DISC_FAN.length]!)
  );
}

/** So many of the discs of a mesh at most, spread over all of them, as triangles that cover as much. */
export function fewerDiscs(mesh: Mesh, most: number): Mesh {
  const count = mesh.indices.length / DISC_FAN.length;
  const step = Math.max(1, Math.ceil(count / most));
  const kept = Math.ceil(count / step);
  // Every other corner is a triangle of half of the hexagon.
  const scale = Math.sqrt(2 * step);
  const pick = (list: Float32Array): Float32Array => {
    const out = new Float32Array(kept * 9);
    for (let i = 0; i < kept; i++)
      for (let corner = 0; corner < 3; corner++)
        for (let k = 0; k < 3; k++) out[9 * i + 3 * corner + k] = list[(i * step * DISC_CORNERS + 2 * corner) * 3 + k]!;
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

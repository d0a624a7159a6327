/** The edges of a solid, out of the triangles of its faces: where a face ends, there its edge runs. */

interface Faces {
  /** x y z of each vertex. */
  positions: ArrayLike<number>;
  /** Three vertex numbers a triangle. */
  indices: ArrayLike<number>;
  /** First and last triangle of each face. */
  faces: { first: number; last: number }[];
}

/**
 * Both ends of every piece of an edge, six numbers each, in the unit of the positions. Pieces that two
 * faces share come once. Where one face meets itself, as a cylinder's does where it closes, no edge is
 * seen, so none is drawn.
 */
export function edgesOfFaces({ positions, indices, faces }: Faces): number[] {
  // Faces have vertices of their own, so places tell which are the same.
  const places = new Map<string, number>();
  const placeOf = (v: number): number => {
    const key = `${positions[v * 3]},${positions[v * 3 + 1]},${positions[v * 3 + 2]}`;
    let place = places.get(key);
    if (place === undefined) places.set(key, (place = places.size));
    return place;
  };
  const drawn = new Set<string>();
  const out: number[] = [];
  for (const { first, last } of faces) {
    /** Every side by its places, with how often this face has it. */
    const sides = new Map<string, { a: number; b: number; count: number }>();
    for (let t = first; t <= last; t++) {
      for (let k = 0; k < 3; k++) {
        const [a, b] = [indices[t * 3 + k]!, indices[t * 3 + ((k + 1) % 3)]!];
        const [p, q] = [placeOf(a), placeOf(b)];
        if (p === q) continue;
        const key = p < q ? `${p},${q}` : `${q},${p}`;
        const side = sides.get(key);
        if (side) side.count++;
        else sides.set(key, { a, b, count: 1 });
      }
    }
    for (const [key, { a, b, count }] of sides) {
      if (count !== 1 || drawn.has(key)) continue;
      drawn.add(key);
      for (const v of [a, b]) out.push(positions[v * 3]!, positions[v * 3 + 1]!, positions[v * 3 + 2]!);
    }
  }
  return out;
}

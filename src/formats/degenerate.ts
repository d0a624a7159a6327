/** Triangles without area: they are dropped, and the report counts them. */

/** Area of a triangle, below which it is dropped, beside the square of the mesh's extent. */
const MIN_AREA = 1e-14;

/** The triangles that have an area, and how many have none; all of them as they were where each has one. */
export function dropDegenerate(positions: Float32Array, indices: Uint32Array): { indices: Uint32Array; dropped: number } {
  let extent = 0;
  for (let axis = 0; axis < 3; axis++) {
    let low = Infinity;
    let high = -Infinity;
    for (let i = axis; i < positions.length; i += 3) {
      low = Math.min(low, positions[i]!);
      high = Math.max(high, positions[i]!);
    }
    extent = Math.max(extent, high - low);
  }
  const least = MIN_AREA * extent ** 2;
  const kept = new Uint32Array(indices.length - (indices.length % 3));
  let n = 0;
  for (let t = 0; t < kept.length; t += 3) {
    const [a, b, c] = [indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3];
    const [ax, ay, az] = [positions[a]!, positions[a + 1]!, positions[a + 2]!];
    const [ux, uy, uz] = [positions[b]! - ax, positions[b + 1]! - ay, positions[b + 2]! - az];
    const [vx, vy, vz] = [positions[c]! - ax, positions[c + 1]! - ay, positions[c + 2]! - az];
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    // What is no number is kept: that is not for here to judge.
    if (nx * nx + ny * ny + nz * nz <= least * least) continue;
    kept[n++] = indices[t]!;
    kept[n++] = indices[t + 1]!;
    kept[n++] = indices[t + 2]!;
  }
  const dropped = (kept.length - n) / 3;
  return { indices: dropped === 0 ? kept : kept.slice(0, n), dropped };
}

/** What the import report says of triangles that were left out. */
export function droppedWarning(dropped: number): string {
  return `${dropped} ${dropped === 1 ? 'triangle' : 'triangles'} without area ${dropped === 1 ? 'was' : 'were'} left out.`;
}

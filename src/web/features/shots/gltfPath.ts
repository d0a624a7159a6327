/** A walk's path out of a glTF: a camera that moves, or a line that is drawn. */
import { type Camera, type Line, type LineSegments, type Object3D, Vector3 } from 'three';
import { type GLTF, GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import type { Vec3 } from '../../../core/math/bounds.js';
import { MAX_STATIONS, type PathRow } from '../../../core/shots/walkthrough/pathCsv.js';
import { MESSAGES } from './fileWords.js';

const round = (p: Vector3): Vec3 => p.toArray().map((c) => Math.round(c * 1e5) / 1e5) as Vec3;

/** Every so many of a list, both its ends among them, so that no more than the most are left. */
function thinned<T>(list: T[]): T[] {
  if (list.length <= MAX_STATIONS) return list;
  return Array.from({ length: MAX_STATIONS }, (_, i) => list[Math.round((i * (list.length - 1)) / (MAX_STATIONS - 1))]!);
}

const carriesCamera = (object: Object3D): boolean => {
  let found = false;
  object.traverse((o) => (found ||= (o as Camera).isCamera === true));
  return found;
};

/** Places and times of the first thing that moves; of one that carries a camera rather than of another. */
function moved({ scene, animations }: GLTF): PathRow[] | null {
  const tracks = animations
    .flatMap((a) => a.tracks)
    .filter((t) => t.name.endsWith('.position') && t.times.length > 1)
    .flatMap((track) => {
      const object =
        scene.getObjectByProperty('uuid', track.name.slice(0, -'.position'.length)) ??
        scene.getObjectByName(track.name.slice(0, -'.position'.length));
      return object ? [{ track, object }] : [];
    });
  const chosen = tracks.find(({ object }) => carriesCamera(object)) ?? tracks[0];
  if (!chosen) return null;
  const { track, object } = chosen;
  scene.updateMatrixWorld(true);
  // Smooth tracks keep three values a time: the way in, the value, the way out.
  const stride = track.values.length / track.times.length;
  const rows = Array.from(track.times, (time, i) => {
    const p = new Vector3().fromArray(track.values, i * stride + (stride === 9 ? 3 : 0));
    return { time, eye: round(object.parent ? p.applyMatrix4(object.parent.matrixWorld) : p) };
  });
  return thinned(rows).map(({ time, eye }, i, list) => ({
    eye,
    ...(i > 0 && { seconds: Math.max(1e-3, Math.round((time - list[i - 1]!.time) * 1e4) / 1e4) }),
  }));
}

/** Corners of the first line, each once. */
function drawn({ scene }: GLTF): PathRow[] | null {
  let line: Line | null = null;
  scene.traverse((o) => {
    if (!line && (o as Line).isLine) line = o as Line;
  });
  if (!line) return null;
  const { geometry, matrixWorld } = line as Line;
  scene.updateMatrixWorld(true);
  const position = geometry.getAttribute('position');
  const index = geometry.getIndex();
  const count = index?.count ?? position.count;
  const points = Array.from({ length: count }, (_, i) =>
    round(new Vector3().fromBufferAttribute(position, index ? index.getX(i) : i).applyMatrix4(matrixWorld)),
  );
  // Single pieces repeat the corner that they share.
  const single = (line as Line as LineSegments).isLineSegments;
  const corners = single ? points.filter((p, i) => i === 0 || p.some((c, k) => c !== points[i - 1]![k])) : points;
  return thinned(corners).map((eye) => ({ eye }));
}

/** Stations of the path that a GLB or a glTF with its buffers within holds. Rejects with a sentence that says what is wrong. */
export async function readGltfPath(bytes: ArrayBuffer): Promise<PathRow[]> {
  let gltf: GLTF;
  try {
    gltf = await new GLTFLoader().parseAsync(bytes, '');
  } catch (e) {
    throw new Error(MESSAGES.itCouldNotBe((e as Error).message), { cause: e });
  }
  const rows = moved(gltf) ?? drawn(gltf);
  if (!rows) throw new Error(MESSAGES.itHasNeitherAn);
  if (rows.length < 2) throw new Error(MESSAGES.aPathNeedsAt);
  return rows;
}

/** Asks the kernel what a frame would show, without rendering it: in the calling thread, over a scene of its own. */
import * as L from '../../../kernel/layout.js';
import { type Frame, withFrame } from '../../core/frame/frame.js';
import { isWithin } from '../../core/model/paths.js';
import { type LightReach, lightRays } from '../../core/preflight/lightRays.js';
import type { Light } from '../../core/stage/light.js';
import { type Floor, floorOf, floorRays } from '../../core/stage/floor.js';
import {
  LIGHT_BOUNCES,
  type PixelProbe,
  POINT,
  PROBE_WIDTH,
  type ProbeRequest,
  type RawProbe,
  roomRays,
  SUBJECT_POINTS,
  type SubjectPaths,
  type SubjectProbe,
} from '../../core/preflight/probe.js';
import type { Kernel } from '../kernel.js';
import type { CompiledScene } from '../scene/compile.js';
import { filmLayout } from '../upload/filmLayout.js';
import { loadScene, localKernel, type SceneHost } from '../upload/loadScene.js';
import { TILE_BYTES } from '../upload/tileMemory.js';
import { projectSubject } from './projectSubject.js';
import { type SubjectPoints, subjectPoints } from './subjectPoints.js';

/** Samples a pixel from which light is estimated. */
const LIGHT_SAMPLES = 4;
/** One for all frames: what a frame's own depends on, as its size, must not change what its probe answers. */
const SEED = 1;
/** Share of the distance by which a ray may stop short of its point and still count as having met it. */
const REACHED = 1e-3;
/** Most rays that the tile's room takes at once. */
const MAX_RAYS = Math.floor(TILE_BYTES / (L.QUERY_BYTES + L.PROBE_BYTES));

/** The frame at the size and sampling of a probe, of the same proportions. */
function reducedFrame(frame: Frame): Frame {
  const aspect = (frame.size.width * frame.pixelAspect) / frame.size.height;
  const size =
    aspect >= 1
      ? { width: PROBE_WIDTH, height: Math.max(2, Math.round(PROBE_WIDTH / aspect)) }
      : { width: Math.max(2, Math.round(PROBE_WIDTH * aspect)), height: PROBE_WIDTH };
  return withFrame(frame, {
    size,
    seed: SEED,
    passes: ['beauty'],
    lines: undefined,
    sampling: {
      ...frame.sampling,
      mode: 'traced',
      samples: LIGHT_SAMPLES,
      noise: 0,
      seconds: 0,
      denoise: false,
      bounces: Math.min(frame.sampling.bounces, LIGHT_BOUNCES),
    },
  });
}

/** Whether a ray, six numbers at `at`, comes down onto the ground where that is whole or fading. */
function meetsGround(rays: Float32Array, at: number, base: NonNullable<Frame['stage']['base']>): boolean {
  const [x, y, z, dx, dy, dz] = rays.subarray(at, at + 6) as unknown as [number, number, number, number, number, number];
  const t = (base.height - y) / dy;
  return t > 0 && Number.isFinite(t) && Math.hypot(x + t * dx - base.x, z + t * dz - base.z) < base.outer;
}

/** Answers of PROBE records, field by field. */
interface Answers {
  distance: Float32Array;
  part: Int32Array;
  solidDistance: Float32Array;
  solidPart: Int32Array;
  interfaces: Uint8Array;
  back: Uint8Array;
}

/** Asks frames of one scene by rays. */
export class FrameProber {
  private readonly host: SceneHost;
  private readonly kernel: Kernel;
  private readonly paths: string[];
  private readonly points = new Map<string, SubjectPoints>();

  /** Throws where the machine has no memory for the scene. */
  constructor(module: WebAssembly.Module, scene: CompiledScene) {
    this.host = loadScene(module, scene, 1);
    this.kernel = localKernel(module, this.host);
    this.paths = scene.parts.map((p) => p.path);
  }

  /** Bytes of memory that it holds. */
  get bytes(): number {
    return this.host.bytes;
  }

  /** @param frame a planned frame of this scene, as `resolveScene` has it. */
  probe(frame: Frame, { subject, light, floor, lights }: ProbeRequest): RawProbe {
    const small = reducedFrame(frame);
    const record = this.host.lay(0, small, light);
    const { width, height } = small.size;
    const at = this.host.areas[0]!.tile;
    this.kernel.probePixels(record, at);
    const { distance, part, solidPart, interfaces } = this.read(at, width * height);
    const pixels: PixelProbe = { width, height, distance, part, solidPart, interfaces };
    const room = this.ask(record, roomRays(frame.camera.eye), Infinity);
    const seen = subject && frame.camera.kind !== 'panorama' ? this.probeSubject(record, frame, subject) : null;
    const lit = light ? this.estimateLight(record, small) : null;
    const reach = lights ? frame.stage.lights.map((l) => this.probeLight(record, frame, l)) : null;
    // The last one, since it lays another frame into the same place.
    const lies = floor ? this.probeFloor(frame) : null;
    return {
      paths: this.paths,
      pixels,
      room: { distance: room.distance, part: room.part, back: room.back },
      subject: seen,
      floor: lies,
      lights: reach,
      light: lit,
    };
  }

  private read(at: number, count: number): Answers {
    const words = L.PROBE_BYTES / 4;
    const f32 = new Float32Array(this.host.memory.buffer, at, count * words);
    const i32 = new Int32Array(this.host.memory.buffer, at, count * words);
    const field = <A extends Float32Array | Int32Array | Uint8Array>(out: A, from: Float32Array | Int32Array, offset: number): A => {
      for (let i = 0; i < count; i++) out[i] = from[i * words + offset / 4]!;
      return out;
    };
    return {
      distance: field(new Float32Array(count), f32, L.PROBE_DISTANCE),
      part: field(new Int32Array(count), i32, L.PROBE_PART),
      solidDistance: field(new Float32Array(count), f32, L.PROBE_SOLID_DISTANCE),
      solidPart: field(new Int32Array(count), i32, L.PROBE_SOLID_PART),
      interfaces: field(new Uint8Array(count), i32, L.PROBE_INTERFACES),
      back: field(new Uint8Array(count), i32, L.PROBE_BACK),
    };
  }

  /** Answers rays of six numbers, up to `far` lengths of their direction. */
  private ask(record: number, rays: Float32Array, far: number): Answers {
    const count = rays.length / 6;
    if (count > MAX_RAYS) throw new Error(`${count} rays requested at once; ${MAX_RAYS} is the most.`);
    const at = this.host.areas[0]!.tile;
    const f32 = new Float32Array(this.host.memory.buffer, at, (count * L.QUERY_BYTES) / 4);
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < 6; c++) f32[i * 8 + c] = rays[i * 6 + c]!;
      f32[i * 8 + 6] = far;
    }
    const out = at + count * L.QUERY_BYTES;
    this.kernel.probeRays(record, at, out, count);
    return this.read(out, count);
  }

  private pointsOf(subject: readonly string[]): SubjectPoints {
    const key = subject.join('\n');
    const known = this.points.get(key);
    if (known) return known;
    const tops = new Set(subject);
    const within = this.host.data.instances.filter((i) => isWithin(i.path, tops));
    const made = subjectPoints(this.host.data, within);
    this.points.set(key, made);
    return made;
  }

  private probeSubject(record: number, frame: Frame, subject: NonNullable<SubjectPaths>): SubjectProbe | null {
    const points = this.pointsOf(subject);
    const { count, x, y, weight, reach, point, from } = projectSubject(points, frame, this.paths);
    if (points.part.length === 0) return null;
    const state = new Uint8Array(count).fill(POINT.notAsked);
    const by = new Int32Array(count).fill(-1);
    const facing = new Int32Array(count);
    let faces = 0;
    for (let i = 0; i < count; i++) {
      if (!(x[i]! >= 0 && x[i]! <= 1 && y[i]! >= 0 && y[i]! <= 1)) continue;
      // What turns away from the eye hides itself.
      if (weight[i]! > 0) facing[faces++] = i;
      else state[i] = POINT.hiddenBySubject;
    }
    const every = Math.max(1, faces / SUBJECT_POINTS);
    const asked = Int32Array.from({ length: Math.min(faces, SUBJECT_POINTS) }, (_, k) => facing[Math.floor(k * every)]!);
    const rays = new Float32Array(asked.length * 6);
    for (let k = 0; k < asked.length; k++) {
      const i = asked[k]!;
      for (let c = 0; c < 3; c++) {
        rays[k * 6 + c] = from[i * 3 + c]!;
        rays[k * 6 + 3 + c] = point[i * 3 + c]! - from[i * 3 + c]!;
      }
    }
    const met = this.ask(record, rays, 1 + REACHED);
    const own = new Set(points.part);
    asked.forEach((i, k) => {
      const hit = met.solidDistance[k]! < 1 - REACHED ? met.solidPart[k]! : -1;
      state[i] = hit < 0 ? POINT.seen : own.has(hit) ? POINT.hiddenBySubject : POINT.hiddenByOther;
      if (state[i] === POINT.hiddenByOther) by[i] = hit;
    });
    return { x: x.subarray(0, count), y: y.subarray(0, count), state, by, weight: weight.subarray(0, count), reach };
  }

  /** What of the model and of the ground a light shines at; null of light from afar. */
  private probeLight(record: number, { stage: { base } }: Frame, light: Light): LightReach | null {
    const rays = lightRays(light);
    if (!rays) return null;
    const met = this.ask(record, rays, Infinity);
    const inside = new Map<number, number>();
    let reached = 0;
    const count = rays.length / 6;
    for (let i = 0; i < count; i++) {
      const isMet = met.part[i]! >= 0;
      if (isMet || (base && meetsGround(rays, i * 6, base))) reached++;
      // From behind, and nothing that lets light through.
      if (isMet && met.back[i] === 1 && met.solidDistance[i] === met.distance[i]) inside.set(met.part[i]!, (inside.get(met.part[i]!) ?? 0) + 1);
    }
    const [part, most] = [...inside].reduce((a, b) => (b[1] > a[1] ? b : a), [-1, 0] as [number, number]);
    const enclosed = [...inside.values()].reduce((a, b) => a + b, 0) / count;
    return { reached: reached / count, enclosed, ...(most > 0 && { enclosedBy: this.paths[part]! }) };
  }

  /** What of the model lies about the ground, as the frame has it uncut. */
  private probeFloor(frame: Frame): Floor | null {
    const { base } = frame.stage;
    const bounds = this.host.data.subject;
    if (!base) return null;
    const record = this.host.lay(0, withFrame(reducedFrame(frame), { section: undefined }), false);
    const rays = floorRays(bounds, base.height);
    const first = this.ask(record, rays, Infinity);
    // What is met from behind is the underside of a solid that is placed there, and no floor; unless the ray is inside another one beyond it.
    const step = 1e-4 * Math.max(1e-3, bounds.max[1] - bounds.min[1]);
    const beyond = rays.slice();
    first.distance.forEach((d, i) => (beyond[i * 6 + 1]! -= Number.isFinite(d) ? d + step : 0));
    const second = this.ask(record, beyond, Infinity);
    const distances = first.distance.map((d, i) => (first.back[i] === 0 || second.back[i] === 1 ? d : d + step + second.distance[i]!));
    return floorOf(bounds, base.height, distances);
  }

  private estimateLight(record: number, small: Frame): Float32Array {
    const { width, height } = small.size;
    const { stride } = filmLayout(small);
    const at = this.host.areas[0]!.tile;
    const sums = new Float32Array(this.host.memory.buffer, at, width * height * stride);
    sums.fill(0);
    this.kernel.renderTile(record, 0, 0, width, height, 0, LIGHT_SAMPLES, at);
    const out = new Float32Array(width * height * 3);
    for (let i = 0; i < width * height; i++) {
      const n = sums[i * stride + L.PIXEL_COUNT]!;
      for (let c = 0; c < 3; c++) out[i * 3 + c] = n > 0 ? sums[i * stride + c]! / n : 0;
    }
    return out;
  }
}

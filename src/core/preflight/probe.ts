/**
 * What is asked of one frame before a run, as data: the engine answers with a RawProbe, `summarizeProbe` keeps what
 * findings judge by. Places in a frame are shares of its width and height, from the upper left.
 */
import { applyGrade, autoExposure } from '../image/grade.js';
import type { Frame } from '../frame/frame.js';
import type { Floor } from '../stage/floor.js';
import type { LightReach } from './lightRays.js';
import { luminance } from '../units/colour.js';

/** Pixels across the longer side of a probe. */
export const PROBE_WIDTH = 64;
/** Points on a subject's surface that are asked whether the eye sees them. */
export const SUBJECT_POINTS = 400;

/** What a point on the subject's surface is to the eye. */
export const POINT = { seen: 0, hiddenBySubject: 1, hiddenByOther: 2, notAsked: 3 } as const;

/** Which parts count as subject: paths, each with all below; null for no subject. */
export type SubjectPaths = readonly string[] | null;

/** What the engine is asked. */
export interface ProbeRequest {
  /** Parts of the subject by path; null where the frame has none. */
  subject: SubjectPaths;
  /** Whether its light is estimated too, which takes several times as long. */
  light: boolean;
  /** Whether the model is asked for a floor of its own about the ground. */
  floor: boolean;
  /** Whether the lights of its stage are asked what they reach. */
  lights: boolean;
}

/** Answers of the primary rays, one a pixel, row by row. */
export interface PixelProbe {
  width: number;
  height: number;
  /** Metres along the ray to the first surface; infinite where there is none. */
  distance: Float32Array;
  /** Index of the part of the first surface, -1 where there is none; and of the first that lets no light through. */
  part: Int32Array;
  solidPart: Int32Array;
  /** Surfaces in line that let light through. */
  interfaces: Uint8Array;
}

/** Answers of rays from the eye in directions all around. */
export interface RoomProbe {
  /** Metres; infinite where nothing is met. */
  distance: Float32Array;
  part: Int32Array;
  /** 1 where the surface was met from behind. */
  back: Uint8Array;
}

/** Points on the subject's surface as the frame has them. */
export interface SubjectProbe {
  /** Shares of the frame's width and height; NaN where the point lies behind the eye. Points outside are outside 0..1. */
  x: Float32Array;
  y: Float32Array;
  /** A value of POINT each. */
  state: Uint8Array;
  /** Index of the part that hides the point; -1 where none does. */
  by: Int32Array;
  /** Of a point that was asked, how much of the frame the surface about it takes, in any unit. */
  weight: Float32Array;
  /** Of each cutting plane of the frame, how far what it cuts reaches along its normal from the plane, in metres: lowest and highest. Empty range where it cuts no part of the subject. */
  reach: [low: number, high: number][];
}

export interface RawProbe {
  /** Paths of parts by index. */
  paths: readonly string[];
  pixels: PixelProbe;
  room: RoomProbe;
  subject: SubjectProbe | null;
  /** What of the model lies about the ground; null where that was not asked, or there is no ground. */
  floor: Floor | null;
  /** What each light of the stage reaches, null of light from afar; null where that was not asked. */
  lights: (LightReach | null)[] | null;
  /** Mean linear light a pixel of `pixels`, three floats each. */
  light: Float32Array | null;
}

/** A rectangle in a frame: left, top, right, bottom. */
export type Box = [number, number, number, number];

export interface SubjectSummary {
  /** Share of its outline that lies outside the frame, 0..1. */
  outside: number;
  /** How far it reaches beyond each side, in shares of the frame's width or height; 0 where it does not. */
  over: { left: number; top: number; right: number; bottom: number };
  /** Where it is, also beyond the frame. */
  box: Box;
  /** Share of the frame that its outline within the frame takes. */
  area: number;
  /** Of what of it lies in the frame and turns to the eye, the share that other parts hide. */
  hidden: number;
  /** Path of the part that hides most of it; absent where nothing does. */
  hiddenBy?: string;
  /** Some of it lies behind the eye. */
  isBehind: boolean;
  /** As SubjectProbe.reach. */
  reach: [low: number, high: number][];
}

export interface LightSummary {
  /** Shares of the pixels that show the model. */
  black: number;
  burnt: number;
  /** Exposure in EV that the model's mean light asks for. */
  wanted: number;
  /** Mean brightness of all pixels as displayed, 0..1, and their standard deviation. */
  mean: number;
  spread: number;
}

/** What is kept of a probe. */
export interface FrameProbe {
  /** Share of the pixels that show any part. */
  covered: number;
  subject: SubjectSummary | null;
  /** Metres to the nearest surface around the eye, and the path of its part; infinite where there is none. */
  nearest: number;
  nearestPart?: string;
  /** Share of the directions around the eye that meet a surface from behind. */
  enclosed: number;
  /** Path of the part that most of them meet. */
  enclosedBy?: string;
  /** Metres to the nearest surface in the frame. */
  nearestInFrame: number;
  /** Share of the pixels that look through more surfaces than the frame's refraction depth allows. */
  beyondDepth: number;
  /** Largest number of surfaces that light passes in line, leaving out the last half per cent of the pixels. */
  interfaces: number;
  /** The same in the mean of all pixels. */
  glass: number;
  /** Share of the directions around the eye that meet anything. */
  closed: number;
  floor: Floor | null;
  /** As RawProbe has them. */
  lights: (LightReach | null)[] | null;
  light: LightSummary | null;
}

/** Cells across the raster in which the subject's outline is measured, over the frame's longer side. */
const OUTLINE_CELLS = 48;
/** How far beyond the frame the outline is measured, in frames on each side. */
const OUTLINE_REACH = 2;
/** Brightness as displayed up to which a pixel counts as black. */
const BLACK = 0.02;
/** Channels as displayed from which a pixel counts as burnt out. */
const BURNT = 0.995;
/** Share of the pixels that may look through more glass unnoticed. */
const STRAY_SHARE = 0.005;

/** Index of what has most; -1 where there is none. */
function largest(amounts: ReadonlyMap<number, number>): number {
  let best = -1;
  for (const [i, n] of amounts) if (best < 0 || n > amounts.get(best)!) best = i;
  return best;
}

/** Index that is met most often; -1 where the list has none. */
function mostFrequent(list: Iterable<number>): number {
  const counts = new Map<number, number>();
  for (const i of list) if (i >= 0) counts.set(i, (counts.get(i) ?? 0) + 1);
  return largest(counts);
}

function summarizeSubject(probe: SubjectProbe, aspect: number, paths: readonly string[]): SubjectSummary {
  const [across, down] = aspect >= 1 ? [OUTLINE_CELLS, OUTLINE_CELLS / aspect] : [OUTLINE_CELLS * aspect, OUTLINE_CELLS];
  const cells = new Set<number>();
  let inside = 0;
  let isBehind = false;
  const box: Box = [Infinity, Infinity, -Infinity, -Infinity];
  const pitch = Math.ceil(across * (2 * OUTLINE_REACH + 1)) + 2;
  const blockers = new Map<number, number>();
  let [seen, hidden] = [0, 0];
  probe.x.forEach((x, i) => {
    const y = probe.y[i]!;
    if (Number.isNaN(x)) {
      isBehind = true;
      return;
    }
    box[0] = Math.min(box[0], x);
    box[1] = Math.min(box[1], y);
    box[2] = Math.max(box[2], x);
    box[3] = Math.max(box[3], y);
    const weight = probe.weight[i]!;
    if (probe.state[i] === POINT.seen) seen += weight;
    else if (probe.state[i] === POINT.hiddenByOther) {
      hidden += weight;
      blockers.set(probe.by[i]!, (blockers.get(probe.by[i]!) ?? 0) + weight);
    }
    const cx = Math.min(1 + OUTLINE_REACH, Math.max(-OUTLINE_REACH, x));
    const cy = Math.min(1 + OUTLINE_REACH, Math.max(-OUTLINE_REACH, y));
    const cell = Math.floor((cx + OUTLINE_REACH) * across) + pitch * Math.floor((cy + OUTLINE_REACH) * down);
    if (cells.has(cell)) return;
    cells.add(cell);
    if (x >= 0 && x <= 1 && y >= 0 && y <= 1) inside++;
  });
  const hiddenBy = largest(blockers);
  const beyond = (v: number): number => (Number.isFinite(v) ? Math.max(0, v) : 0);
  return {
    outside: cells.size > 0 ? 1 - inside / cells.size : 1,
    over: { left: beyond(-box[0]), top: beyond(-box[1]), right: beyond(box[2] - 1), bottom: beyond(box[3] - 1) },
    box,
    area: inside / (across * down),
    hidden: hidden > 0 ? hidden / (hidden + seen) : 0,
    ...(hiddenBy >= 0 && { hiddenBy: paths[hiddenBy]! }),
    isBehind,
    reach: probe.reach,
  };
}

function summarizeLight(light: Float32Array, { part }: PixelProbe, frame: Frame): LightSummary {
  const display = new Float32Array(light.length);
  applyGrade(light, display, { ...frame.grade, glow: undefined });
  let [black, burnt, shown, sum, square] = [0, 0, 0, 0, 0];
  const count = part.length;
  for (let i = 0; i < count; i++) {
    const [r, g, b] = [display[i * 3]!, display[i * 3 + 1]!, display[i * 3 + 2]!];
    const l = luminance(r, g, b);
    sum += l;
    square += l * l;
    if (part[i]! < 0) continue;
    shown++;
    if (l <= BLACK) black++;
    if (Math.min(r, g, b) >= BURNT) burnt++;
  }
  const mean = sum / count;
  const wanted = autoExposure(light, shown > 0 ? (i) => part[i]! >= 0 : undefined);
  return {
    black: shown > 0 ? black / shown : 0,
    burnt: shown > 0 ? burnt / shown : 0,
    wanted,
    mean,
    spread: Math.sqrt(Math.max(0, square / count - mean * mean)),
  };
}

/** What findings judge by. */
export function summarizeProbe(raw: RawProbe, frame: Frame): FrameProbe {
  const { pixels, room, paths } = raw;
  const count = pixels.part.length;
  const share = (holds: (i: number) => boolean): number => {
    let n = 0;
    for (let i = 0; i < count; i++) if (holds(i)) n++;
    return n / count;
  };
  const inLine = [...pixels.interfaces].sort((a, b) => a - b);
  let nearest = 0;
  room.distance.forEach((d, i) => {
    if (d < room.distance[nearest]!) nearest = i;
  });
  const behind = [...room.part.keys()].filter((i) => room.back[i] === 1);
  const enclosedBy = mostFrequent(behind.map((i) => room.part[i]!));
  const nearestPart = room.part[nearest] ?? -1;
  const aspect = (frame.size.width * frame.pixelAspect) / frame.size.height;
  return {
    covered: share((i) => pixels.part[i]! >= 0),
    subject: raw.subject && summarizeSubject(raw.subject, aspect, paths),
    nearest: room.distance[nearest] ?? Infinity,
    ...(nearestPart >= 0 && { nearestPart: paths[nearestPart]! }),
    enclosed: room.part.length > 0 ? behind.length / room.part.length : 0,
    ...(enclosedBy >= 0 && { enclosedBy: paths[enclosedBy]! }),
    nearestInFrame: pixels.distance.reduce((a, b) => Math.min(a, b), Infinity),
    beyondDepth: share((i) => pixels.interfaces[i]! > frame.sampling.refractionDepth),
    interfaces: inLine[Math.min(count - 1, Math.floor((1 - STRAY_SHARE) * count))] ?? 0,
    glass: pixels.interfaces.reduce((a, b) => a + b, 0) / count,
    closed: room.part.length > 0 ? room.part.reduce((n, p) => n + (p >= 0 ? 1 : 0), 0) / room.part.length : 0,
    floor: raw.floor,
    lights: raw.lights,
    light: raw.light && summarizeLight(raw.light, pixels, frame),
  };
}

/** Directions from the eye in which its surroundings are asked: six numbers a ray, evenly over the sphere (Fibonacci lattice). */
export function roomRays(eye: readonly number[], count = 48): Float32Array {
  const rays = new Float32Array(count * 6);
  const golden = Math.PI * (3 - Math.sqrt(5));
  for (let i = 0; i < count; i++) {
    const y = 1 - (2 * (i + 0.5)) / count;
    const r = Math.sqrt(1 - y * y);
    rays.set([...eye.slice(0, 3), r * Math.cos(golden * i), y, r * Math.sin(golden * i)], i * 6);
  }
  return rays;
}

/**
 * What is asked of one frame before a run, as data: the engine answers with a RawProbe, `summarizeProbe` keeps what
 * findings judge by (`summarizeProbe.ts`). Places in a frame are shares of its width and height, from the upper left.
 */
import type { Floor } from '../stage/floor.js';
import type { LightReach } from './lightRays.js';
import type { Cells } from './cells.js';

/** Pixels across the longer side of a probe. */
export const PROBE_WIDTH = 64;
/** Bounces of the paths by which light is estimated: what more would add is under the noise of so few samples. */
export const LIGHT_BOUNCES = 3;
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

/** What rays of a probe met, as the engine answers it. */
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

/** How a frame shows its subject. */
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

/** How bright a frame is expected to be. */
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
  marks: ProbeMarks;
}

/** Where in the frame is what findings are about; each is there only where it may come to a finding. */
export interface ProbeMarks {
  /** The part that is nearest to the eye. */
  near?: Cells;
  /** The part that hides most of the subject. */
  blocker?: Cells;
  /** Beyond the refraction depth. */
  deep?: Cells;
  black?: Cells;
  burnt?: Cells;
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

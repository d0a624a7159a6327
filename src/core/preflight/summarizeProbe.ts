/** Makes of the engine's answers about a frame what findings judge by. */
import type { Frame } from '../frame/frame.js';
import { applyGrade, autoExposure } from '../image/grade.js';
import { luminance } from '../units/colour.js';
import { type Cells, cellsWhere } from './cells.js';
import {
  type Box,
  type FrameProbe,
  type LightSummary,
  type PixelProbe,
  POINT,
  type RawProbe,
  type SubjectProbe,
  type SubjectSummary,
} from './probe.js';

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

/** Shares from which marks are kept, all below those of the findings: of the middle distance; of the subject; of the model. */
const NEAR_SHARE = 0.1;
const HIDDEN_SHARE = 0.1;
const LIT_SHARE = 0.3;

/** Whether that is nearer than a share of the middle one of the distances at which anything is met. */
function isNearerThan(distance: number, share: number, distances: Float32Array): boolean {
  let [met, farther] = [0, 0];
  for (const d of distances) {
    if (!Number.isFinite(d)) continue;
    met++;
    if (distance < share * d) farther++;
  }
  return met === 0 ? distance < Infinity : farther >= met - (met >> 1);
}

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
  const pitch = Math.ceil(across * (2 * OUTLINE_REACH + 1)) + 2;
  const cells = new Uint8Array(pitch * (Math.ceil(down * (2 * OUTLINE_REACH + 1)) + 2));
  let [met, inside] = [0, 0];
  let isBehind = false;
  const box: Box = [Infinity, Infinity, -Infinity, -Infinity];
  const blockers = new Map<number, number>();
  let [seen, hidden] = [0, 0];
  for (let i = 0; i < probe.x.length; i++) {
    const x = probe.x[i]!;
    const y = probe.y[i]!;
    if (Number.isNaN(x)) {
      isBehind = true;
      continue;
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
    if (cells[cell] === 1) continue;
    cells[cell] = 1;
    met++;
    if (x >= 0 && x <= 1 && y >= 0 && y <= 1) inside++;
  }
  const hiddenBy = largest(blockers);
  const beyond = (v: number): number => (Number.isFinite(v) ? Math.max(0, v) : 0);
  return {
    outside: met > 0 ? 1 - inside / met : 1,
    over: { left: beyond(-box[0]), top: beyond(-box[1]), right: beyond(box[2] - 1), bottom: beyond(box[3] - 1) },
    box,
    area: inside / (across * down),
    hidden: hidden > 0 ? hidden / (hidden + seen) : 0,
    ...(hiddenBy >= 0 && { hiddenBy: paths[hiddenBy]! }),
    isBehind,
    reach: probe.reach,
  };
}

/** Light of the pixels as displayed, and which of the model's are black or burnt out. */
function summarizeLight(light: Float32Array, { part, width }: PixelProbe, frame: Frame): { summary: LightSummary; black: Cells; burnt: Cells } {
  const display = new Float32Array(light.length);
  applyGrade(light, display, { ...frame.grade, glow: undefined });
  let [shown, sum, square] = [0, 0, 0];
  const count = part.length;
  const [isBlack, isBurnt] = [new Uint8Array(count), new Uint8Array(count)];
  for (let i = 0; i < count; i++) {
    const [r, g, b] = [display[i * 3]!, display[i * 3 + 1]!, display[i * 3 + 2]!];
    const l = luminance(r, g, b);
    sum += l;
    square += l * l;
    if (part[i]! < 0) continue;
    shown++;
    if (l <= BLACK) isBlack[i] = 1;
    if (Math.min(r, g, b) >= BURNT) isBurnt[i] = 1;
  }
  const share = (of: Uint8Array): number => (shown > 0 ? of.reduce((a, b) => a + b, 0) / shown : 0);
  const mean = sum / count;
  const wanted = autoExposure(light, shown > 0 ? (i) => part[i]! >= 0 : undefined);
  const spread = Math.sqrt(Math.max(0, square / count - mean * mean));
  return {
    summary: { black: share(isBlack), burnt: share(isBurnt), wanted, mean, spread },
    black: cellsWhere(width, count, (i) => isBlack[i] === 1),
    burnt: cellsWhere(width, count, (i) => isBurnt[i] === 1),
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
  const inLine = pixels.interfaces.slice().sort();
  let nearest = 0;
  room.distance.forEach((d, i) => {
    if (d < room.distance[nearest]!) nearest = i;
  });
  const behind = [...room.part.keys()].filter((i) => room.back[i] === 1);
  const enclosedBy = mostFrequent(behind.map((i) => room.part[i]!));
  const nearestPart = room.part[nearest] ?? -1;
  const aspect = (frame.size.width * frame.pixelAspect) / frame.size.height;
  const subject = raw.subject && summarizeSubject(raw.subject, aspect, paths);
  const light = raw.light && summarizeLight(raw.light, pixels, frame);
  const beyondDepth = share((i) => pixels.interfaces[i]! > frame.sampling.refractionDepth);
  const cells = (holds: (i: number) => boolean): Cells => cellsWhere(pixels.width, count, holds);
  const isNear = nearestPart >= 0 && isNearerThan(room.distance[nearest] ?? Infinity, NEAR_SHARE, pixels.distance);
  const blocker = subject && subject.hidden > HIDDEN_SHARE ? paths.indexOf(subject.hiddenBy ?? '') : -1;
  return {
    covered: share((i) => pixels.part[i]! >= 0),
    subject,
    nearest: room.distance[nearest] ?? Infinity,
    ...(nearestPart >= 0 && { nearestPart: paths[nearestPart]! }),
    enclosed: room.part.length > 0 ? behind.length / room.part.length : 0,
    ...(enclosedBy >= 0 && { enclosedBy: paths[enclosedBy]! }),
    nearestInFrame: pixels.distance.reduce((a, b) => Math.min(a, b), Infinity),
    beyondDepth,
    interfaces: inLine[Math.min(count - 1, Math.floor((1 - STRAY_SHARE) * count))] ?? 0,
    glass: pixels.interfaces.reduce((a, b) => a + b, 0) / count,
    closed: room.part.length > 0 ? room.part.reduce((n, p) => n + (p >= 0 ? 1 : 0), 0) / room.part.length : 0,
    floor: raw.floor,
    lights: raw.lights,
    light: light && light.summary,
    marks: {
      ...(isNear && { near: cells((i) => pixels.part[i] === nearestPart) }),
      ...(blocker >= 0 && { blocker: cells((i) => pixels.solidPart[i] === blocker) }),
      ...(beyondDepth > STRAY_SHARE && { deep: cells((i) => pixels.interfaces[i]! > frame.sampling.refractionDepth) }),
      ...(light && light.summary.black > LIT_SHARE && { black: light.black }),
      ...(light && light.summary.burnt > LIT_SHARE && { burnt: light.burnt }),
    },
  };
}

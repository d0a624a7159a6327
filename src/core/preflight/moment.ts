/** What a frame shows, leaving out how finely it is rendered. */
import { hashOf } from '../base/hash.js';
import type { Frame } from '../frame/frame.js';

/** Hash of what is seen from where in which light; `scene` is the model's. Settings of quality, size and files are no part of it. */
export function momentHash(frame: Frame, scene: string): string {
  const { camera, turn, section, materials, transform, stage, size, pixelAspect } = frame;
  return hashOf({ scene, camera, turn, section, materials: materials?.id, transform, stage, aspect: (size.width * pixelAspect) / size.height }).slice(
    0,
    32,
  );
}

/** Numbers that differ by less show the same. */
const ALIKE = 1e-6;

function isAlike(a: unknown, b: unknown): boolean {
  // Frames of a shot share most of what they are made of.
  if (a === b) return true;
  if (typeof a === 'number' && typeof b === 'number') return Math.abs(a - b) <= ALIKE * Math.max(1, Math.abs(a), Math.abs(b));
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].every((k) => isAlike((a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]));
}

const wholeTurns = (degrees: number): number => {
  const rest = ((degrees % 360) + 360) % 360;
  return 360 - rest < 1e-6 ? 0 : rest;
};

/** Whether two frames of one shot show the same from the same place. */
export function isSameMoment(a: Frame, b: Frame): boolean {
  const { turn: s, ...one } = { turn: a.turn, camera: a.camera, section: a.section, stage: a.stage };
  const { turn: t, ...other } = { turn: b.turn, camera: b.camera, section: b.section, stage: b.stage };
  return isAlike(wholeTurns(s?.rotation ?? 0), wholeTurns(t?.rotation ?? 0)) && isAlike(one, other);
}

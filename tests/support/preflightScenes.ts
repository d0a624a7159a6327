/** What the sets for the checks before a run are made of: a house, views of it, shots. */
import type { OutputPlace } from '../../src/core/preflight/finding.js';
import { box, type Piece } from './checkModel.js';

/** A set of the corpus with its model. */
export interface CorpusSet {
  name: string;
  pieces: Piece[];
  changes: Record<string, unknown>;
  missingFiles?: string[];
  output?: OutputPlace;
  /** Id of the finding that was planted; absent of a clean set. */
  planted?: string;
  /** Findings that follow from what was planted, as they would in a studio. */
  follows?: string[];
}

/** x, y, z; metres. */
export type Point = [number, number, number];
/** What a case is made of at a scale: 1 is a subject about two metres across. */
export type Make = (s: number) => Omit<CorpusSet, 'name'>;

/** The point, scaled about the origin. */
export const scaled = (p: Point, s: number): Point => p.map((c) => c * s) as Point;
/** A box as a piece of a model. */
export const block = (name: string, min: Point, max: Point, s: number, more: Partial<Piece> = {}): Piece => ({
  name,
  mesh: box(scaled(min, s), scaled(max, s)),
  ...more,
});

/** A house with a chimney, so that it looks otherwise from each side. */
export const house = (s: number): Piece[] => [block('House', [-1, 0, -0.8], [1, 1.2, 0.8], s), block('Chimney', [0.3, 1.2, -0.2], [0.5, 1.7, 0], s)];
/** Clear glass. */
export const glassPane = { material: { transmission: 1, ior: 1.5, roughness: 0 } };
/** A spot light of the set. */
export const spot = (s: number, from: Point, to: Point): object => ({
  id: 'key',
  name: 'Key',
  kind: 'spot',
  at: scaled(from, s),
  target: scaled(to, s),
  lumens: 400,
});
/** A box without its last face. */
export const openBox = (min: number[], max: number[]): Piece['mesh'] => {
  const mesh = box(min, max);
  return { ...mesh, indices: mesh.indices.slice(0, -6) };
};
/** A screen across the line of sight of the view from the front. */
export const screen = (s: number, from: number, to: number): Piece => block('Screen', [from, -1, 2.4], [to, 4, 2.5], s, { isContext: true });

/** A view that shows the block well. */
export const VIEW = { id: 'v', name: 'Front', eye: [0, 1.2, 7] as Point, target: [0, 0.85, 0] as Point, focalLength: 45 };
/** What of it differs. */
export type ViewChanges = Partial<typeof VIEW> & { kind?: string; width?: number };
/** That view at a scale. */
export const viewAt = (s: number, more: ViewChanges = {}): object => {
  const v = { ...VIEW, ...more };
  return { ...v, eye: scaled(v.eye, s), target: scaled(v.target, s) };
};
/** A folder with room. */
export const DISK: OutputPlace = { folder: '/data/pictures', writable: true, free: 1e9, needed: null };
/** A small format sheet. */
export const SHEET = { size: { width: 640, height: 360 }, quality: { samples: 16 } };
/** Changes that make a set one still. */
export const still = (s: number, view: ViewChanges = {}, more: object = {}): Record<string, unknown> => ({
  sheet: SHEET,
  views: [viewAt(s, view)],
  shots: [{ id: 's', name: 'Still', kind: 'still', views: ['v'] }],
  ...more,
});
/** An open shutter, so that few frames do not strobe. */
export const spin = (s: number, view: ViewChanges = {}, shot: object = {}, sheet: object = { shutter: 180 }): Record<string, unknown> => ({
  sheet: { ...SHEET, ...sheet },
  views: [viewAt(s, view)],
  shots: [{ id: 's', name: 'Spin', kind: 'turntable', view: 'v', frames: 12, ...shot }],
});
/** Changes that make a set one walkthrough. */
export const walk = (stations: object[], shot: object = {}): Record<string, unknown> => ({
  sheet: { ...SHEET, rate: '8' },
  views: [viewAt(1)],
  shots: [{ id: 's', name: 'Walk', kind: 'walkthrough', look: 'ahead', ease: false, stations, ...shot }],
});
/** Changes that make a set one section reveal. */
export const reveal = (s: number, from: number, to: number): Record<string, unknown> => ({
  ...still(s),
  sheet: { ...SHEET, rate: '8' },
  shots: [{ id: 's', name: 'Reveal', kind: 'sectionReveal', view: 'v', stations: [{ height: from * s }, { height: to * s, seconds: 1 }] }],
});
/** A place in the north. */
export const SITE = { latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' };
/** Changes that make a set one sun study. */
export const sun = (s: number, from: string, to: string, stage: object = {}): Record<string, unknown> => ({
  ...still(s),
  stage: { preset: 'open sky', site: SITE, ...stage },
  shots: [{ id: 's', name: 'Sun', kind: 'sunStudy', view: 'v', dates: ['2026-06-21'], from, to, stepMinutes: 60 }],
});
/** Changes that say things of parts. */
export const materials = (parts: object[]): object => ({ materials: { parts, rules: [], materials: [], swaps: [], variants: [] } });
/** A stage without ground. */
export const NO_GROUND = { stage: { ground: { kind: 'none' } } };
/** A stage with a light of its own. */
export const LIT = { lights: [{ id: 'key', name: 'Key', kind: 'point', at: [0, 6, 0], target: [0, 0, 0], lumens: 800 }] };
/** The point at the scale of a house. */
export const at = (p: Point, s = 5): Point => scaled(p, s);

/** Pictures of both demo designs with very many samples, kept as 16-bit PNG of display values. */
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';
import { LAMP_SHOTS, LANDING } from '../../demo/sets.js';
import { northmere } from '../../demo/northmere.js';
import { tern } from '../../demo/tern.js';
import type { Model } from '../../src/core/model/model.js';
import { shown } from './judge.js';

/** The lamp as the references saw it when they were rendered: what the demo shows may move, and they take long to make. */
const LAMP = {
  ...LAMP_SHOTS,
  views: LAMP_SHOTS.views.map((v) => (v.id === 'three-quarter' ? { ...v, eye: [0.86, 0.46, 1.12] } : v)),
};

/** A render that is kept, and what it is made from. */
export interface Reference {
  name: string;
  model: () => Model;
  set: unknown;
  /** Index of the frame. */
  frame: number;
  size: { width: number; height: number };
}

/** Samples of a reference. */
export const LONG = 4096;

const size = { width: 480, height: 270 };
/** All renders that are kept. */
export const REFERENCES: Reference[] = [
  { name: 'tern', model: tern, set: LAMP, frame: 0, size },
  { name: 'northmere', model: northmere, set: LANDING, frame: 4, size },
];

/** Two neighbouring frames of Tern's turntable, in another size: what moves between them is known. */
export const TURNING: [Reference, Reference] = [3, 4].map((frame) => ({
  name: `tern-turn-${frame - 3}`,
  model: tern,
  set: LAMP,
  frame,
  size: { width: 320, height: 180 },
})) as [Reference, Reference];

const fileOf = ({ name }: Reference): string => fileURLToPath(new URL(`../reference/pictures/${name}.png`, import.meta.url));

/** Writes a reference anew. */
export async function saveReference(reference: Reference, colour: Float32Array): Promise<void> {
  const values = Uint16Array.from(shown(colour), (v) => Math.round(v * 257));
  await sharp(values, { raw: { ...reference.size, channels: 3 } })
    .toColourspace('rgb16')
    .png({ compressionLevel: 9 })
    .toFile(fileOf(reference));
}

/** Display values 0..255. */
export async function loadReference(reference: Reference): Promise<Float32Array> {
  const { data, info } = await sharp(fileOf(reference)).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
  if (info.channels !== 3) throw new Error(`${reference.name}.png has ${info.channels} channels, not 3.`);
  return Float32Array.from(new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2), (v) => v / 257);
}

/** Light from all around in kernel memory: texels, and the tables by which directions are drawn. */
import * as L from '../../../kernel/layout.js';
import { canonicalJson } from '../../core/base/hash.js';
import { type SkyLight, skyTable } from '../../core/stage/sky.js';
import { environmentCdf, type EnvironmentCdf, SKY_SIZE, type EnvironmentTexels } from '../scene/environmentMap.js';
import type { Arena } from '../kernel.js';
import { writeF32, writeU32, type Views } from './memoryViews.js';

/** Where a surround of one size lies. */
export interface EnvironmentLayout {
  record: number;
  texels: number;
  rows: number;
  columns: number;
}

/** Takes room for an environment map of that size. */
export function allocEnvironment(arena: Arena, { width, height }: { width: number; height: number }): EnvironmentLayout {
  return {
    record: arena.take(L.ENV_BYTES),
    texels: arena.take(width * height * 12),
    rows: arena.take((height + 1) * 4),
    columns: arena.take(height * (width + 1) * 4),
  };
}

/** Writes a surround, unturned and at its own strength; returns its mean luminance. */
export function writeEnvironment(
  views: Views,
  room: EnvironmentLayout,
  picture: EnvironmentTexels,
  tables: EnvironmentCdf = environmentCdf(picture),
): number {
  writeF32(views, room.texels, picture.texels);
  writeF32(views, room.rows, tables.rows);
  writeF32(views, room.columns, tables.columns);
  [picture.width, picture.height, room.texels, room.rows, room.columns].forEach((w, i) => writeU32(views, room.record + i * 4, w));
  rotateEnvironmentRecord(views, room.record, 0, 1);
  return tables.mean;
}

/** Turns a surround by degrees, counterclockwise seen from above, and sets its strength. */
export function rotateEnvironmentRecord(views: Views, record: number, rotation: number, strength: number): void {
  const angle = (rotation * Math.PI) / 180;
  writeF32(views, record + L.ENV_COS, [Math.cos(angle), Math.sin(angle), strength]);
}

/** A sky and what directions are drawn by, under what it is made of. */
export interface Sky {
  key: string;
  picture: EnvironmentTexels;
  tables: EnvironmentCdf;
}

/** What is kept of skies: the one made last, and under each place which one lies there, since frames after frames have the same. */
export interface SkyMemory {
  latest: Sky | null;
  laid: Map<number, Sky>;
}

/** Writes the sky of a frame; returns its mean luminance. */
export function writeSky(views: Views, room: EnvironmentLayout, sky: SkyLight, memory: SkyMemory): number {
  const key = canonicalJson(sky);
  const there = memory.laid.get(room.record);
  if (there?.key === key) return there.tables.mean;
  if (memory.latest?.key !== key) {
    const picture = { ...SKY_SIZE, texels: skyTable(sky, SKY_SIZE.width, SKY_SIZE.height) };
    memory.latest = { key, picture, tables: environmentCdf(picture) };
  }
  memory.laid.set(room.record, memory.latest);
  return writeEnvironment(views, room, memory.latest.picture, memory.latest.tables);
}

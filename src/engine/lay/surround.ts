/** Light from all around in kernel memory: texels, and the tables by which directions are drawn. */
import * as L from '../../../kernel/layout.js';
import { canonicalJson } from '../../core/plan/hash.js';
import { type SkyLight, skyTable } from '../../core/stage/sky.js';
import { imageTables, type ImageTables, SKY_SIZE, type SurroundTexels } from '../image.js';
import { type Arena } from '../kernel.js';
import { putFloats, putWord, type Views } from './views.js';

/** Where a surround of one size lies. */
export interface SurroundRoom {
  record: number;
  texels: number;
  rows: number;
  columns: number;
}

export function takeSurround(arena: Arena, { width, height }: { width: number; height: number }): SurroundRoom {
  return {
    record: arena.take(L.IMAGE_BYTES),
    texels: arena.take(width * height * 12),
    rows: arena.take((height + 1) * 4),
    columns: arena.take(height * (width + 1) * 4),
  };
}

/** Writes a surround, unturned and at its own strength; returns its mean luminance. */
export function laySurround(views: Views, room: SurroundRoom, picture: SurroundTexels, tables: ImageTables = imageTables(picture)): number {
  putFloats(views, room.texels, picture.texels);
  putFloats(views, room.rows, tables.rows);
  putFloats(views, room.columns, tables.columns);
  [picture.width, picture.height, room.texels, room.rows, room.columns].forEach((w, i) => putWord(views, room.record + i * 4, w));
  turnSurround(views, room.record, 0, 1);
  return tables.mean;
}

/** Turns a surround by degrees, counterclockwise seen from above, and sets its strength. */
export function turnSurround(views: Views, record: number, rotation: number, strength: number): void {
  const angle = (rotation * Math.PI) / 180;
  putFloats(views, record + L.IMAGE_COS, [Math.cos(angle), Math.sin(angle), strength]);
}

/** The sky laid last: frames of a turntable have the same one. */
let latest: { key: string; picture: SurroundTexels; tables: ImageTables } | null = null;

/** Writes the sky of a frame; returns its mean luminance. */
export function laySky(views: Views, room: SurroundRoom, sky: SkyLight): number {
  const key = canonicalJson(sky);
  if (latest?.key !== key) {
    const picture = { ...SKY_SIZE, texels: skyTable(sky, SKY_SIZE.width, SKY_SIZE.height) };
    latest = { key, picture, tables: imageTables(picture) };
  }
  return laySurround(views, room, latest.picture, latest.tables);
}

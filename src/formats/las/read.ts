/**
 * Reads point clouds of LAS and, through laz-perf, of LAZ: places, colours and classes by the ASPRS LAS Specification 1.4 R15.
 */
import { createRequire } from 'node:module';
import type { LazPerf } from 'laz-perf';
import { pluralize } from '../../core/base/pluralize.js';
import type { Model } from '../../core/model/model.js';
import { toLinear } from '../../core/units/colour.js';
import { METRES } from '../../core/units/length.js';
import { ModelError, type ReadOptions, type SourceFile } from '../format.js';
import { ModelBuilder } from '../modelBuilder.js';
import { nearOrigin } from '../nearOrigin.js';
import { leftOut } from '../report.js';
import type { PointCloud } from '../points/cloud.js';
import { cloudModel } from '../points/model.js';
import { type LasHeader, readHeader } from './header.js';

/** Points of a file at most; more would not be held in memory. */
const MAX_POINTS = 50_000_000;
/** Names of the classes that the specification gives, by their numbers. */
const CLASSES = [
  'Never classified',
  'Unclassified',
  'Ground',
  'Low vegetation',
  'Medium vegetation',
  'High vegetation',
  'Building',
  'Low noise',
  'Reserved',
  'Water',
  'Rail',
  'Road',
  'Reserved',
  'Wire guard',
  'Wire conductor',
  'Transmission tower',
  'Wire connector',
  'Bridge deck',
  'High noise',
];
const NOISE = [7, 18];
/** Gives the bytes of points, in their order. */
interface Points {
  next(): DataView;
  close(): void;
}

async function open({ name, bytes }: SourceFile, header: LasHeader): Promise<Points> {
  const { start, stride, compressed } = header;
  let at = 0;
  if (!compressed) return { next: () => new DataView(bytes.buffer, bytes.byteOffset + start + at++ * stride, stride), close: () => undefined };
  const { createLazPerf } = createRequire(import.meta.url)('laz-perf') as { createLazPerf: () => Promise<LazPerf> };
  const laz = await createLazPerf();
  const file = laz._malloc(bytes.length);
  const point = laz._malloc(stride);
  const reader = new laz.LASZip();
  const guarded = <T>(act: () => T): T => {
    try {
      return act();
    } catch (e) {
      throw new ModelError(`"${name}" is damaged: its compressed points cannot be read. Export or copy it again.`, { cause: e });
    }
  };
  guarded(() => {
    laz.HEAPU8.set(bytes, file);
    reader.open(file, bytes.length);
  });
  return {
    next: () => {
      guarded(() => reader.getPoint(point));
      return new DataView(laz.HEAPU8.buffer, point, stride);
    },
    close: () => {
      reader.delete();
      laz._free(file);
      laz._free(point);
    },
  };
}

/** Colours as they are stored, else shades of the echo's strength, else none. */
function coloursOf(colours: Uint16Array, echoes: Uint16Array, gather: ModelBuilder): Pick<PointCloud, 'colours'> {
  const most = (list: Uint16Array): number => list.reduce((m, v) => Math.max(m, v), 0);
  const top = most(colours);
  if (top > 0) {
    // Many writers store bytes where the specification asks for numbers up to 65 535.
    const full = top > 255 ? 65_535 : 255;
    return { colours: Float32Array.from(colours, (v) => toLinear(v / full)) };
  }
  const strongest = most(echoes);
  if (strongest === 0) return {};
  gather.warnings.add('The points have no colours; they are as bright as their echo is strong.');
  const out = new Float32Array(echoes.length * 3);
  echoes.forEach((v, i) => out.fill(toLinear(v / strongest), 3 * i, 3 * i + 3));
  return { colours: out };
}

/** Reads a cloud. @throws where it is cut short, empty, or of more points than can be held. */
export async function read(file: SourceFile, { asked }: ReadOptions): Promise<Model> {
  const { name } = file;
  const header = readHeader(file);
  const { count, wide, scale, offset, colourAt } = header;
  if (count === 0) throw new ModelError(`"${name}" holds no points; export it again.`);
  if (count > MAX_POINTS)
    throw new ModelError(`"${name}" has ${pluralize(count, 'point')}; ${MAX_POINTS.toLocaleString('en')} is the most. Thin it, or cut out a part.`);
  const metres = METRES[asked?.unit ?? 'm'];
  const places = new Float64Array(count * 3);
  const colours = new Uint16Array(colourAt === undefined ? 0 : count * 3);
  const echoes = new Uint16Array(count);
  const classes = new Uint8Array(count);
  let [kept, withheld, noise] = [0, 0, 0];
  const points = await open(file, header);
  try {
    for (let i = 0; i < count; i++) {
      const point = points.next();
      const kind = wide ? point.getUint8(16) : point.getUint8(15) & 0x1f;
      const isWithheld = (point.getUint8(15) & (wide ? 4 : 128)) !== 0;
      if (isWithheld) withheld++;
      else if (NOISE.includes(kind)) noise++;
      else {
        for (let k = 0; k < 3; k++) places[3 * kept + k] = (point.getInt32(4 * k, true) * scale[k]! + offset[k]!) * metres;
        if (colourAt !== undefined) for (let k = 0; k < 3; k++) colours[3 * kept + k] = point.getUint16(colourAt + 2 * k, true);
        echoes[kept] = point.getUint16(12, true);
        classes[kept++] = kind;
      }
    }
  } finally {
    points.close();
  }
  if (kept === 0) throw new ModelError(`"${name}" holds no points but such as are marked as withheld or as noise.`);
  const gather = new ModelBuilder();
  const left = leftOut([
    ['points marked as withheld', withheld],
    ['points marked as noise', noise],
  ]);
  if (left) gather.warnings.add(left);
  const cloud: PointCloud = {
    positions: nearOrigin(places.subarray(0, 3 * kept), asked?.up ?? 'z', gather),
    ...coloursOf(colours.subarray(0, 3 * kept), echoes.subarray(0, kept), gather),
    classes: classes.subarray(0, kept),
  };
  return cloudModel(gather, name, cloud, (kind) => CLASSES[kind] ?? `Class ${kind}`);
}

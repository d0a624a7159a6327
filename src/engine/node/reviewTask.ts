/** What the process that looks at finished renders is asked, and what it answers. */
import type { Frame } from '../../core/frame/frame.js';
import type { FileFacts } from '../../core/handover/audit.js';
import type { FileEntry } from '../../core/handover/manifest.js';
import type { PassId } from '../../core/image/passes.js';
import type { ChangedPart, PartMap } from '../../core/review/changedParts.js';
import type { Sheet } from '../../core/handover/sheets/page.js';

/** A PartMap between processes: the map as base64 of 16-bit numbers. */
export interface SentPartMap {
  width: number;
  height: number;
  parts: string[];
  map: string;
}

/** The other way round. */
export function receivePartMap({ width, height, parts, map }: SentPartMap): PartMap {
  const bytes = Buffer.from(map, 'base64');
  return { width, height, parts, map: new Uint16Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length)) };
}

/** A pass out of OpenEXR files, or of a master; depth by a range in metres where one is given. */
export type ShownPass = ({ exr: string[] } | { master: string }) & { pass: PassId; range?: [number, number] } & Pick<
    Frame,
    'grade' | 'passes' | 'transparent' | 'lines'
  >;

/** A picture: a file that any reader takes, or a pass. */
export type ShownFile = { path: string } | ShownPass;

/** What a worker is asked for that reads finished renders. */
export type ReviewTask =
  /** Compares two pictures at up to so many pixels across. */
  | { kind: 'compare'; first: ShownFile; second: ShownFile; width: number; threshold: number; parts: [SentPartMap, SentPartMap] | null }
  /** Writes what a person sees of it as PNG to `out`. */
  | { kind: 'show'; file: ShownFile; out: string }
  /** Facts of a file of a package. */
  | { kind: 'facts'; path: string; of: FileEntry['kind'] }
  /** A sheet: one PDF at `out`, or its pages as PNG in the folder `out` under the number of each. */
  | { kind: 'sheet'; sheet: Sheet<ShownFile>; type: 'pdf' | 'png' | 'html'; out: string }
  /**
   * Writes passes of a master as halves to `out`, as linearLight has them: what files are graded from.
   * @param beauty OpenEXR file of its beauty, where it is filtered otherwise than it was kept.
   */
  | { kind: 'linear'; master: string; beauty?: string; passes: PassId[]; maxPixels: number; out: string };

/** What two renders differ by, as the page shows it. */
export interface Comparison {
  /** Pixels at which they were compared. */
  width: number;
  height: number;
  /** Share of the pixels that changed, 0..1. */
  changed: number;
  ssim: number;
  /** Largest CIEDE2000 of a changed pixel. */
  largest: number;
  areas: number;
  /** Changed parts, most first. */
  parts: ChangedPart[];
}

/** Size and channels of what was written. */
export interface LinearSize {
  width: number;
  height: number;
  /** Pixels of the render across one of these. */
  reduced: number;
  channels: number;
}

/** What such a worker answers. */
export type ReviewDone = { facts: FileFacts | null } | { sheet: true } | { comparison: Comparison } | { shown: true } | { linear: LinearSize };

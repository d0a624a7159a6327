/** A film as bytes: what was summed up of a picture whose sampling was ended early, so that it can go on from there. */
import { deflateSync, inflateSync } from 'node:zlib';
import type { LinearRender } from '../scheduler/job.js';

/** Sums of a frame whose sampling can go on. */
export interface Checkpoint {
  /** Of the frame; sums of another must not be gone on with. */
  identity: string;
  samples: number;
  stride: number;
  sums: Float32Array;
}

/** Raised when the form changes. */
const CHECKPOINT_VERSION = 3;
/** Sums are noise in their low bits: more effort would save little. */
const EFFORT = 1;

/**
 * Layout: version (u32), then, deflated and so with a checksum over all of it: length of the head (u32), head as JSON,
 * sums with bytes of the same weight together.
 */
export function encodeCheckpoint(identity: string, picture: Pick<LinearRender, 'samples' | 'stride' | 'sums'>): Uint8Array {
  const { samples, stride, sums } = picture;
  const head = new TextEncoder().encode(JSON.stringify({ identity, samples, stride, floats: sums.length }));
  const bytes = new Uint8Array(sums.buffer, sums.byteOffset, sums.byteLength);
  const content = new Uint8Array(4 + head.length + bytes.length);
  new DataView(content.buffer).setUint32(0, head.length, true);
  content.set(head, 4);
  // Bytes of the same weight together compress, single floats do not.
  const sorted = content.subarray(4 + head.length);
  for (let i = 0, n = sums.length; i < n; i++) for (let k = 0; k < 4; k++) sorted[k * n + i] = bytes[i * 4 + k]!;
  const body = deflateSync(content, { level: EFFORT });
  const out = new Uint8Array(4 + body.length);
  new DataView(out.buffer).setUint32(0, CHECKPOINT_VERSION, true);
  out.set(body, 4);
  return out;
}

/** Null where the film is of another version or damaged: then the picture begins anew. */
export function decodeCheckpoint(bytes: Uint8Array): Checkpoint | null {
  try {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    if (view.getUint32(0, true) !== CHECKPOINT_VERSION) return null;
    const content = inflateSync(bytes.subarray(4));
    const end = 4 + content.readUInt32LE(0);
    const { identity, samples, stride, floats } = JSON.parse(content.toString('utf8', 4, end)) as Omit<Checkpoint, 'sums'> & { floats: number };
    const sorted = content.subarray(end);
    if (sorted.length !== floats * 4) return null;
    const raw = new Uint8Array(floats * 4);
    for (let i = 0; i < floats; i++) for (let k = 0; k < 4; k++) raw[i * 4 + k] = sorted[k * floats + i]!;
    return { identity, samples, stride, sums: new Float32Array(raw.buffer) };
  } catch {
    return null;
  }
}

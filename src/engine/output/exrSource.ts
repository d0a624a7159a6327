/** Passes out of an OpenEXR file as encodeFiles writes it, to look at them. */
import * as L from '../../../kernel/layout.js';
import { passOf, type PassId } from '../../core/image/passes.js';
import type { ExrChannels } from '../../formats/exr/read.js';
import type { PassSource } from './film.js';

/** A file of that pass only has its own channels. Its planes throw where the file lacks the pass. */
export function exrSource({ width, height, channels }: ExrChannels): PassSource {
  const find = (name: string): Float32Array => {
    const plane = channels.get(name);
    if (!plane) throw new Error(`This file has no channel ${name}.`);
    return plane;
  };
  const join = (names: readonly string[]): Float32Array => {
    const planes = names.map(find);
    const out = new Float32Array(width * height * planes.length);
    planes.forEach((plane, c) => {
      for (let i = 0; i < plane.length; i++) out[i * planes.length + c] = plane[i]!;
    });
    return out;
  };
  /** Labels are bits, not numbers: they are copied as they are. */
  const mattes = (id: PassId): Float32Array => {
    const pairs = L.MATTE_PAIRS / 2;
    const out = new Float32Array(width * height * L.MATTE_PAIRS * 2);
    const to = new Uint32Array(out.buffer);
    for (let k = 0; k < pairs; k++) {
      for (const [c, name] of ['R', 'G', 'B', 'A'].entries()) {
        const plane = find(`${id}0${k}.${name}`);
        const from = new Uint32Array(plane.buffer, plane.byteOffset, plane.length);
        for (let i = 0; i < from.length; i++) to[i * L.MATTE_PAIRS * 2 + k * 4 + c] = from[i]!;
      }
    }
    return out;
  };
  return {
    width,
    height,
    plane(id) {
      const pass = passOf(id);
      if (pass.needs === 'mattes') return mattes(id);
      if (id === 'beauty') return join(['R', 'G', 'B']);
      if (id === 'alpha' && channels.has('A')) return join(['A']);
      return join(pass.channels.map((name) => `${id}.${name}`));
    },
  };
}

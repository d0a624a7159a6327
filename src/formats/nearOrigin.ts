/** Coordinates of maps are moved to the origin, since renders compute in single precision. */
import { boundsOfPoints } from '../core/math/bounds.js';
import { MAX_COORDINATE } from './budget.js';
import { DamageError } from './format.js';
import type { ModelBuilder } from './modelBuilder.js';

/** Farther from the origin than this, in metres, single precision no longer tells millimetres apart. */
const NEAR = 10_000;

/** Places in metres, +Y up, moved to the origin where they are those of a map. */
export function nearOrigin(places: Float64Array, up: 'y' | 'z', gather: ModelBuilder): Float32Array {
  const { min: low, max: high } = boundsOfPoints(places);
  if (![...low, ...high].every((v) => Math.abs(v) <= MAX_COORDINATE)) throw new DamageError('it has a point that is nowhere on Earth');
  // Heights are kept where they can be: they are of use to whoever reads a level off.
  const moved = low.map((v, k) => (Math.max(Math.abs(v), Math.abs(high[k]!)) > NEAR ? Math.round((v + high[k]!) / 2) : 0));
  if (moved.some((v) => v !== 0))
    gather.warnings.add(`Moved to the origin, by ${moved.map((v) => `${(0 - v).toLocaleString('en')} m`).join(', ')} along x, y and z of the file.`);
  const out = new Float32Array(places.length);
  for (let i = 0; i < places.length; i += 3) {
    const [x, y, z] = [places[i]! - moved[0]!, places[i + 1]! - moved[1]!, places[i + 2]! - moved[2]!];
    out.set(up === 'z' ? [x, z, -y] : [x, y, z], i);
  }
  return out;
}

/**
 * Renders the long references that denoised renders are judged by (tests/reference/denoise.test.ts), about a quarter of an
 * hour on two cores, then what undenoised ones come to beside them. To be run after a change of the demo designs or their
 * sets: `npx tsx scripts/references.ts`, with names of references to make those alone. Where only the engine changed,
 * `npx tsx scripts/references.ts undenoised` makes the figures anew.
 */
import { LONG, REFERENCES, saveReference, TURNING } from '../tests/support/references.js';
import { studio } from '../tests/support/judge.js';
import { measureUndenoised, saveUndenoised } from '../tests/support/undenoised.js';

const asked = process.argv.slice(2);
for (const reference of [...REFERENCES, ...TURNING].filter(({ name }) => asked.length === 0 || asked.includes(name))) {
  const place = await studio(reference.model(), reference.set, reference.size);
  const { colour } = await place.shoot(place.frames[reference.frame]!, { x: 0, y: 0, ...reference.size }, LONG, false);
  await saveReference(reference, colour);
  await place.close();
}
saveUndenoised(await measureUndenoised());

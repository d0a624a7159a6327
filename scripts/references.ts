/**
 * Renders the long references that denoised pictures are judged by (tests/reference/denoise.test.ts): about a quarter of an
 * hour on two cores. To be run after a change of the demo designs or their sets: `npx tsx scripts/references.ts`.
 */
import { LONG, REFERENCES, saveReference } from '../tests/support/references.js';
import { studio } from '../tests/support/judge.js';

for (const reference of REFERENCES) {
  const place = await studio(reference.model(), reference.set, reference.size);
  const { colour } = await place.shoot(place.frames[reference.frame]!, { x: 0, y: 0, ...reference.size }, LONG, false);
  await saveReference(reference, colour);
  await place.close();
}

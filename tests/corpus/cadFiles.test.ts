/** STEP, IGES and BREP files by others, all of them: `npm test` reads the smaller ones. */
import { expect, it } from 'vitest';
import { cadFiles, expectWhole } from '../support/cadFiles.js';

it('every one of them is read whole, or is said to refer to others', async () => {
  expect(await expectWhole(cadFiles)).toBeGreaterThanOrEqual(40);
});

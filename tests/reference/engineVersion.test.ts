/** Frames of one identity have the same bits for ever: whoever changes pixels raises the engine's version. */
import { createHash } from 'node:crypto';
import { expect, it } from 'vitest';
import { ENGINE_VERSION } from '../../src/core/frame/frame.js';
import { studio } from '../support/judge.js';
import { REFERENCES } from '../support/references.js';

/** SHA-256 of a small render of the lamp, unfiltered and filtered, by the engine's version. A new version gets a line of its own. */
const PIXELS: Readonly<Record<string, string>> = { '12': '3ac491ae98b0d490da79c08945e7188756eb6e7457361b413d445c9df403e0f5' };

it('a frame has the pixels that this version of the engine has always made', async () => {
  const [{ model, set, frame }] = REFERENCES as [(typeof REFERENCES)[number]];
  const size = { width: 96, height: 54 };
  const place = await studio(model(), set, size);
  const hash = createHash('sha256');
  for (const denoise of [false, true]) {
    const { colour } = await place.shoot(place.frames[frame]!, { x: 0, y: 0, ...size }, 16, denoise);
    hash.update(new Uint8Array(colour.buffer));
  }
  await place.close();
  const advice = 'Pixels have changed. Where the engine did it, raise ENGINE_VERSION; where the lamp did, write down the new ones.';
  expect(hash.digest('hex'), advice).toBe(PIXELS[ENGINE_VERSION]);
});

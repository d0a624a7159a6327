import { expect, it } from 'vitest';
import { loadCode } from './loadCode.js';

it('fetches code again until it is there', async () => {
  let asked = 0;
  const pick = (): Promise<string> => (++asked < 4 ? Promise.reject(new Error('away')) : Promise.resolve('code'));
  expect([await loadCode(pick, 1), asked]).toEqual(['code', 4]);
});

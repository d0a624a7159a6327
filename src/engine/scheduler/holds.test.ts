import { describe, expect, it } from 'vitest';
import { Holds } from './holds.js';

describe('what is held', () => {
  it('is the highest of all that hold, until each has ended', () => {
    const holds = new Holds();
    expect(holds.floor).toBe(-Infinity);
    const [six, ten, other] = [holds.add(6), holds.add(10), holds.add(6)];
    expect(holds.floor).toBe(10);
    ten();
    ten();
    expect(holds.floor).toBe(6);
    six();
    expect(holds.floor).toBe(6);
    other();
    expect(holds.floor).toBe(-Infinity);
  });
});

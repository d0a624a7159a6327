import { describe, expect, it } from 'vitest';
import { bytesOfFrame, MemoryGate } from './memoryGate.js';

describe('the memory of frames in work', () => {
  it('lets in what fits, in order, and one frame however large', async () => {
    const gate = new MemoryGate(100);
    const inside: string[] = [];
    const enter = (name: string, bytes: number): Promise<void> => gate.enter(bytes).then(() => void inside.push(name));
    const settle = (): Promise<void> => new Promise((r) => setTimeout(r));
    void enter('a', 60);
    void enter('b', 40);
    void enter('large', 500);
    void enter('small', 10);
    await settle();
    // The small one does not pass the large one, which would wait for ever.
    expect(inside).toEqual(['a', 'b']);
    gate.leave(60);
    await settle();
    expect(inside).toEqual(['a', 'b']);
    gate.leave(40);
    await settle();
    expect(inside).toEqual(['a', 'b', 'large']);
    gate.leave(500);
    await settle();
    expect(inside).toEqual(['a', 'b', 'large', 'small']);
  });

  it('has at most three large frames, and any number of small ones that fit', async () => {
    const gate = new MemoryGate(1e12);
    let inside = 0;
    for (let i = 0; i < 5; i++) void gate.enter(100 * 2 ** 20).then(() => inside++);
    await new Promise((r) => setTimeout(r));
    expect(inside).toBe(3);
    const small = new MemoryGate(1e12);
    for (let i = 0; i < 9; i++) await small.enter(2 ** 20);
  });

  it('is foreseen from the size and the passes', () => {
    const plain = bytesOfFrame({ size: { width: 3840, height: 2160 }, passes: ['beauty'] });
    expect(plain).toBe(4 * bytesOfFrame({ size: { width: 1920, height: 1080 }, passes: ['beauty'] }));
    expect(bytesOfFrame({ size: { width: 3840, height: 2160 }, passes: ['beauty', 'parts'] })).toBeGreaterThan(plain);
    // A print is rendered in strips.
    expect(bytesOfFrame({ size: { width: 7016, height: 9933 }, passes: ['beauty'] })).toBeLessThan(9 * plain);
  });
});

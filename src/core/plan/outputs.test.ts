import { describe, expect, it } from 'vitest';
import { shotIdOfOutput } from '../frame/frame.js';
import { countFrames, planFrames } from '../planning/planFrames.js';
import { shotOutputs } from './outputs.js';
import { outputName, parseSet, type SetFile } from './set.js';

const set = (variants?: string[]): SetFile =>
  parseSet({
    format: 'cold-easel.set',
    version: 2,
    name: 's',
    sheet: { size: { width: 160, height: 90 }, sizes: [{ id: 'square', width: 100, height: 100 }] },
    materials: {
      variants: [
        { id: 'black', name: 'Black', swaps: [{ from: 'a', to: 'black paint' }] },
        { id: 'white', name: 'White', swaps: [{ from: 'a', to: 'white paint' }] },
      ],
    },
    views: [{ id: 'v', name: 'V', eye: [0, 1, 9], target: [0, 1, 0] }],
    shots: [{ id: 'spin', name: 'Spin', kind: 'turntable', view: 'v', frames: 4, ...(variants && { variants }) }],
  });
const CONTEXT = { bounds: { min: [-1, 0, -1] as [number, number, number], max: [1, 2, 1] as [number, number, number] }, scene: 's' };

describe('outputs of a shot', () => {
  it('are its sizes, and each of them in each variant that a moving shot names', () => {
    const runs = (s: SetFile): string[] => shotOutputs(s.sheet, s.shots[0]!).map((o) => o.run);
    expect(runs(set())).toEqual(['spin', 'spin@square']);
    expect(runs(set(['black', 'white']))).toEqual(['spin', 'spin@square', 'spin+white', 'spin+white@square']);
    expect(runs(set(['black', 'white'])).map(shotIdOfOutput)).toEqual(['spin', 'spin', 'spin', 'spin']);
    const s = set(['black', 'white']);
    expect(runs(s).map((run) => outputName(s, run))).toEqual(['Spin Black', 'Spin Black 100x100', 'Spin White', 'Spin White 100x100']);
  });

  it('are planned with the variant’s materials and with names of their own', () => {
    const s = set(['black', 'white']);
    const frames = planFrames(s, CONTEXT);
    expect([frames.length, countFrames(s)]).toEqual([16, 16]);
    expect(frames.filter((f) => f.shot === 'spin+white').map((f) => f.materials!.swaps[0]!.to)).toEqual(Array(4).fill('white paint'));
    expect(frames.find((f) => f.shot === 'spin')!.name).toContain('black');
    expect(new Set(frames.map((f) => f.name)).size).toBe(16);
    // In each variant the same cameras: the pictures can be laid on each other.
    const eyes = (run: string): unknown => frames.filter((f) => f.shot === run).map((f) => f.camera.viewMatrix);
    expect(eyes('spin')).toEqual(eyes('spin+white'));
  });

  it('refuses a variant that the set does not have', () => {
    expect(() => set(['red'])).toThrow('There is no variant "red"');
  });
});

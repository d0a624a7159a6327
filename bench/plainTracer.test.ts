import { describe, expect, it } from 'vitest';
import { trace } from '../tests/support/trace.js';
import { PlainTracer } from './plainTracer.js';
import { closedHall, forest, merged } from './scenes.js';
import { triangleCount } from '../src/core/model/model.js';

describe('the plain tracer', () => {
  it('sees the hall in the kernel’s light', () => {
    const model = closedHall(2);
    const [eye, target]: [number, number, number][] = [
      [-7, 1.7, -13.9],
      [0, 1.9, 4],
    ];
    const size = { width: 64, height: 36 };
    const ours = trace(model, { eye: eye!, target: target!, focalLength: 24, ...size, samples: 64, bounces: 6 });
    const forward = target!.map((t, i) => t - eye![i]!);
    const theirs = new PlainTracer(model, merged(model)).picture(eye!, forward, Math.atan(18 / 24), size.width, size.height, 64, 6);
    // Numbers of its own, so both means have their errors: together 1.4 times one.
    expect(Math.abs(ours.mean() - theirs)).toBeLessThan(4 * ours.error());
    expect(theirs).toBeGreaterThan(0.05);
  });
});

describe('the forest', () => {
  it('holds one conifer and shows about fifty million triangles', () => {
    const model = forest();
    expect(model.meshes).toHaveLength(2);
    expect(triangleCount(model)).toBeGreaterThan(45e6);
    expect(triangleCount(model)).toBeLessThan(60e6);
    // Each stands in its own place.
    expect(
      new Set(
        model.parts.map((p) =>
          Array.from(p.world as Float32Array)
            .slice(12, 15)
            .join(),
        ),
      ).size,
    ).toBe(model.parts.length);
  });
});

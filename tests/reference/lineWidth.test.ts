/** Drawn lines of any width, of how far pixels are from them, beside the closed form. */
import { afterAll, describe, expect, it } from 'vitest';
import { cameraOf, viewSchema } from '../../src/core/camera/view.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { lineCover } from '../../src/core/image/lineCover.js';
import { MeshMaker, modelOf } from '../../src/core/model/meshMaker.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { startPool } from '../../src/engine/node/threads.js';
import { compile } from '../../src/engine/scene/compile.js';
import { frameFor, WHITE } from '../support/trace.js';

const pool = startPool(1);
afterAll(() => pool.close());

describe('drawn lines', () => {
  it('how far pixels are from a line is told as far as the widest covers, and any width is drawn of it', async () => {
    const bare = modelOf('bare', [{ mesh: new MeshMaker().box([-0.01, -9, -0.01], [0.01, -8.9, 0.01]).mesh() }]);
    const part = { ...bare.parts[0]!, name: 'Curve', path: 'Curve', primitives: [], renderVisible: true };
    // Level, 1 m off the middle of a picture that is 4 m wide and 64 pixels across.
    const curve = compile(loadKernelModule(), { ...bare, parts: [...bare.parts, part], curves: [{ part: 1, points: [-9, 0.3, 0, 9, 0.3, 0] }] });
    const camera = cameraOf(
      viewSchema.parse({ id: 'v', name: 'V', kind: 'parallel', eye: [0, 0, 5], target: [0, 0, 0], width: 4 }),
      { width: 64, height: 64 },
      1,
    );
    const frame = { ...frameFor(bare, { eye: [0, 0, 5], target: [0, 0, 0], width: 64, height: 64, samples: 1, stage: { environment: WHITE } }) };
    const picture = await pool.render('level', () => curve, { ...frame, camera, passes: ['beauty', 'lines'] as Frame['passes'] });
    const distances = picture.lines!.slice();
    picture.release();
    const middle = 32 - 0.3 * 16;
    const column = Array.from({ length: 64 }, (_, y) => distances[y * 64 + 20]!);
    column.forEach((d, y) => expect(d).toBeCloseTo(Math.min(10.5, Math.abs(y + 0.5 - middle)), 4));
    for (const width of [0.5, 1.2, 7, 20]) {
      const drawn = lineCover(Float32Array.from(column), width).reduce((sum, c) => sum + c, 0);
      // A line of so many pixels covers as many of a column; a thinner one than a pixel is a pixel and a half of its faintness at most.
      if (width >= 1) expect(Math.abs(drawn - width)).toBeLessThan(0.02 + (width < 2 ? 0.3 : 0));
      else expect(drawn).toBeLessThan(1.5 * width);
    }
  });
});

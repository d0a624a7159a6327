import { describe, expect, it } from 'vitest';
import { burnLegend } from './legend.js';

const [W, H] = [480, 270];
const TEXT = '2026-06-21  15:00  sun 42.3°';

/** Box of what changed in a grey picture, and its darkest and lightest value. */
async function burnt(
  corner: 'top left' | 'top right' | 'bottom left' | 'bottom right',
  { width = W, height = H, grey = 0.5, pixelAspect = 1, text = TEXT } = {},
) {
  const display = new Float32Array(width * height * 3).fill(grey);
  await burnLegend(display, width, height, { corner, text }, pixelAspect);
  const box = { left: width, right: -1, top: height, bottom: -1, low: 1, high: 0 };
  for (let i = 0; i < width * height; i++) {
    if (display[i * 3] === grey) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    box.left = Math.min(box.left, x);
    box.right = Math.max(box.right, x);
    box.top = Math.min(box.top, y);
    box.bottom = Math.max(box.bottom, y);
    box.low = Math.min(box.low, display[i * 3]!);
    box.high = Math.max(box.high, display[i * 3]!);
  }
  return box;
}

describe('a legend', () => {
  it.each(['top left', 'top right', 'bottom left', 'bottom right'] as const)('stands %s, whole, within a margin', async (corner) => {
    const box = await burnt(corner);
    const edge = 0.03 * H;
    if (corner.endsWith('left')) expect(box.left).toBeGreaterThanOrEqual(Math.floor(edge));
    else expect(box.right).toBeLessThanOrEqual(Math.ceil(W - edge));
    if (corner.endsWith('left')) expect(box.left).toBeLessThan(2 * edge);
    else expect(box.right).toBeGreaterThan(W - 2 * edge);
    if (corner.startsWith('top')) expect([box.top >= Math.floor(edge), box.bottom < H / 4]).toEqual([true, true]);
    else expect([box.bottom <= H - Math.floor(edge), box.top > (3 * H) / 4]).toEqual([true, true]);
  });

  it.each([0, 0.5, 1])('is read on any grey (%d): white letters with a dark edge', async (grey) => {
    const box = await burnt('top left', { grey });
    if (grey < 1) expect(box.high).toBe(1);
    expect(box.low).toBeLessThan(0.2);
  });

  it('is made smaller where it would not fit, and keeps its shape on pixels that are not square', async () => {
    const narrow = await burnt('bottom left', { width: 120, height: 480 });
    expect(narrow.right).toBeLessThan(120);
    const [square, wide] = [
      await burnt('top left', { width: 960, height: 540 }),
      await burnt('top left', { width: 480, height: 540, pixelAspect: 2 }),
    ];
    expect((wide.right - wide.left) * 2).toBeCloseTo(square.right - square.left, -1);
    expect(wide.bottom - wide.top).toBeCloseTo(square.bottom - square.top, -1);
  });

  it('covers what is clear, and leaves the rest as it was', async () => {
    const display = new Float32Array(W * H * 4);
    await burnLegend(display, W, H, { corner: 'top left', text: TEXT });
    const alphas = Array.from({ length: W * H }, (_, i) => display[i * 4 + 3]!);
    expect(alphas).toContain(1);
    expect(alphas.filter((a) => a === 0).length).toBeGreaterThan(0.9 * W * H);
  });
});

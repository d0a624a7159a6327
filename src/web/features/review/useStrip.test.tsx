// @vitest-environment happy-dom
import { act, fireEvent, render, screen } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { REST_MS, STRIP_RATE, useStrip } from './useStrip.js';

function Cell({ count }: { count: number }): ReactNode {
  const { share, onMove, onLeave } = useStrip(count);
  return (
    <button type="button" onPointerMove={onMove} onPointerLeave={onLeave}>
      {share === null ? 'cover' : Math.floor(share * count)}
    </button>
  );
}

const frame = (): string => screen.getByRole('button').textContent!;
const pass = (ms: number): void => act(() => void vi.advanceTimersByTime(ms));
let reduced = false;

beforeEach(() => {
  vi.useFakeTimers();
  reduced = false;
  vi.spyOn(window, 'matchMedia').mockImplementation((query) => ({ matches: reduced && query.includes('reduce') }) as MediaQueryList);
  vi.spyOn(HTMLElement.prototype, 'getBoundingClientRect').mockReturnValue({ left: 0, width: 100 } as DOMRect);
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
  document.body.innerHTML = '';
});

describe('the strip of a moving shot', () => {
  const over = (x: number): void => void fireEvent.pointerMove(screen.getByRole('button'), { clientX: x });

  it('follows the pointer, plays on from there where it rests, comes round, and ends when it leaves', () => {
    render(<Cell count={24} />);
    expect(frame()).toBe('cover');
    over(50);
    expect(frame()).toBe('12');
    pass(REST_MS - 1);
    expect(frame()).toBe('12');
    pass(1 + 3 * (1000 / STRIP_RATE) + 1);
    expect(frame()).toBe('15');
    over(25);
    expect(frame()).toBe('6');
    pass(REST_MS + 24 * (1000 / STRIP_RATE) + 2);
    expect(frame()).toBe('6');
    fireEvent.pointerLeave(screen.getByRole('button'));
    expect(frame()).toBe('cover');
    pass(2000);
    expect(frame()).toBe('cover');
  });

  it('leaves frames out of a long shot, so that it plays through in seconds', () => {
    render(<Cell count={720} />);
    over(0);
    pass(REST_MS + 6000 + 2);
    // Once round: 72 pictures of ten frames each.
    expect(Number(frame())).toBeLessThan(15);
    pass(3000);
    expect(Math.abs(Number(frame()) - 360)).toBeLessThan(15);
  });

  it('does not play where motion is to be reduced, nor of one frame alone', () => {
    reduced = true;
    render(<Cell count={24} />);
    over(50);
    pass(5000);
    expect(frame()).toBe('12');
  });
});

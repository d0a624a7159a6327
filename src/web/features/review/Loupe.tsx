/** A part of the render under the pointer, enlarged to its pixels, with their numbers. */
import type { ReactNode } from 'react';
import type { Extent, Placed } from './useZoom.js';
import { LABELS } from './words.js';

/** CSS pixels of its side, and of each of the render's pixels in it. */
const SIDE = 176;
const PIXEL = 8;

/** @param at shares of the render. @param picture its size. */
export function Loupe({ url, picture, placed, at }: { url: string; picture: Extent; placed: Placed; at: { x: number; y: number } }): ReactNode {
  const [px, py] = [Math.floor(at.x * picture.width), Math.floor(at.y * picture.height)];
  const half = SIDE / 2 - PIXEL / 2;
  const left = placed.left + at.x * placed.width;
  const top = placed.top + at.y * placed.height;
  return (
    <span
      className="pointer-events-none absolute border border-[#15202a] bg-mount outline outline-1 outline-white"
      data-testid="loupe"
      role="img"
      aria-label={LABELS.loupe}
      style={{
        // Beside the pointer, so that it hides what is pointed at no more than it must.
        left: left + 24,
        top: top - SIDE - 24 < 0 ? top + 24 : top - SIDE - 24,
        width: SIDE,
        height: SIDE,
        backgroundImage: `url("${url}")`,
        backgroundRepeat: 'no-repeat',
        backgroundSize: `${picture.width * PIXEL}px ${picture.height * PIXEL}px`,
        backgroundPosition: `${half - px * PIXEL}px ${half - py * PIXEL}px`,
        imageRendering: 'pixelated',
      }}
    >
      <span
        className="absolute border border-[#15202a] outline outline-1 outline-white"
        style={{ left: half - 1, top: half - 1, width: PIXEL, height: PIXEL }}
      />
      <span className="plate num absolute bottom-0 left-0 px-1 text-xs">{LABELS.pixelAt(px, py)}</span>
    </span>
  );
}

/** The frame that shows a finding, with the finding drawn on it in two tones. */
import { type ReactNode, useId, useState } from 'react';
import { cellBoxes } from '../../../core/preflight/cells.js';
import type { Overlay } from '../../../core/preflight/finding.js';
import { PixelMark, type PixelPlace, placeOf } from '../../preview/AskedPixel.js';
import { HELP, LABELS } from './words.js';

interface Props {
  /** Small and large render of the frame; the small one is seen until the large one is there. */
  small: string;
  large: string;
  /** Width by height of the frame. */
  aspect: number;
  shot: string;
  number: number;
  /** Which frame it is, as people say. */
  caption: string;
  overlay?: Overlay;
  /** The pixel that was asked, and asks another. */
  asked: PixelPlace | null;
  onAsk: (at: PixelPlace) => void;
}

/** Strips at the sides are seen at least and at most so wide, in shares of the frame. */
const STRIP = { min: 0.03, max: 0.12 };
const strip = (over: number): number => (over > 0 ? 100 * Math.min(STRIP.max, Math.max(STRIP.min, over)) : 0);

/** In hundredths of the frame's width and height. */
function rectangles(overlay: Overlay): { x: number; y: number; width: number; height: number }[] {
  if (overlay.kind === 'box') {
    const [left, top, right, bottom] = overlay.box.map((v) => 100 * Math.min(1, Math.max(0, v))) as [number, number, number, number];
    return [{ x: left, y: top, width: right - left, height: bottom - top }];
  }
  if (overlay.kind === 'cells')
    return cellBoxes(overlay.cells).map(({ x, y, width, height }) => ({ x: 100 * x, y: 100 * y, width: 100 * width, height: 100 * height }));
  const [left, top, right, bottom] = [overlay.left, overlay.top, overlay.right, overlay.bottom].map(strip) as [number, number, number, number];
  return [
    { x: 0, y: 0, width: left, height: 100 },
    { x: 100 - right, y: 0, width: right, height: 100 },
    { x: 0, y: 0, width: 100, height: top },
    { x: 0, y: 100 - bottom, width: 100, height: bottom },
  ].filter((r) => r.width > 0 && r.height > 0);
}

/** The frame of a finding, with the fault drawn on it. */
export function FindingFrame({ small, large, aspect, shot, number, caption, overlay, asked, onAsk }: Props): ReactNode {
  const hatch = useId();
  const [loaded, setLoaded] = useState('');
  return (
    <div
      className="relative max-h-full max-w-full cursor-crosshair bg-mount"
      onClick={(e) => onAsk(placeOf(e))}
      title={HELP.clickPicture}
      style={{ aspectRatio: aspect, width: `min(100%, ${Math.round(340 * aspect)}px)` }}
      data-testid="finding-frame"
    >
      {/* An image keeps what it showed until another has come: each frame has one of its own. */}
      <img key={small} src={small} alt={LABELS.framePreview(shot, number)} className="absolute inset-0 h-full w-full" />
      <img
        key={large}
        src={large}
        alt=""
        className="absolute inset-0 h-full w-full"
        style={{ opacity: loaded === large ? 1 : 0 }}
        onLoad={() => setLoaded(large)}
      />
      {overlay && (
        <svg viewBox="0 0 100 100" preserveAspectRatio="none" className="absolute inset-0 h-full w-full" aria-hidden data-testid="overlay">
          <defs>
            <pattern id={hatch} width="2" height="2" patternUnits="userSpaceOnUse" patternTransform={`scale(${1 / aspect} 1) rotate(45)`}>
              <rect width="1" height="2" fill="#15202a" opacity="0.75" />
              <rect x="1" width="1" height="2" fill="#ffffff" opacity="0.75" />
            </pattern>
          </defs>
          {rectangles(overlay).map((r) =>
            overlay.kind !== 'box' ? (
              <rect key={`${r.x} ${r.y}`} {...r} fill={`url(#${hatch})`} />
            ) : (
              <g key="box" fill="none" vectorEffect="non-scaling-stroke">
                <rect {...r} stroke="#15202a" strokeWidth="4" vectorEffect="non-scaling-stroke" />
                <rect {...r} stroke="#ffffff" strokeWidth="2" vectorEffect="non-scaling-stroke" />
              </g>
            ),
          )}
        </svg>
      )}
      <PixelMark at={asked} />
      <span className="num plate mark-tl px-1.5 text-sm">{caption}</span>
    </div>
  );
}

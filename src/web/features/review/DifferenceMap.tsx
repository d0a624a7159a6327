/** The heat map of a difference over its picture, with a box around the area that is looked at. */
import { type ReactNode, useEffect, useRef } from 'react';
import type { DifferenceFigures } from '../../compare/differenceJob.js';
import { renderingOf } from './PictureMount.js';
import type { Placed } from './useZoom.js';
import { LABELS } from './words.js';

/** Boxes that are drawn at most: more hide what they are about. */
const MAX_BOXES = 12;

/** Where two renders differ, with boxes about it. */
export function DifferenceMap({ figures, placed, area }: { figures: DifferenceFigures; placed: Placed; area: number | null }): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height, map, areas } = figures;
  useEffect(() => {
    const context = canvas.current!.getContext('2d')!;
    context.drawImage(map, 0, 0);
  }, [map]);
  const boxes = area === null ? areas.slice(0, MAX_BOXES).map((a, i) => ({ ...a, i })) : [{ ...areas[area]!, i: area }];
  const { left, top, width: w, height: h } = placed;
  return (
    <span className="pointer-events-none absolute" style={{ left, top, width: w, height: h }}>
      <canvas
        ref={canvas}
        width={width}
        height={height}
        role="img"
        aria-label={LABELS.differenceMap}
        data-testid="difference-map"
        className="absolute h-full w-full"
        style={{ imageRendering: renderingOf(placed) }}
      />
      {boxes.map((box) => (
        <span
          key={box.i}
          data-testid="changed-area"
          className="absolute border-2 border-[#15202a] outline outline-1 outline-white"
          style={{
            left: `${(100 * box.x) / width}%`,
            top: `${(100 * box.y) / height}%`,
            width: `${(100 * box.width) / width}%`,
            height: `${(100 * box.height) / height}%`,
          }}
        >
          <span className="plate num absolute -left-0.5 bottom-full px-1 text-xs">{box.i + 1}</span>
        </span>
      ))}
    </span>
  );
}

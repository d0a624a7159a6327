/** A render on its mount: as an image, and where it was decoded ahead, painted over that at once. */
import { type ReactNode, useLayoutEffect, useRef } from 'react';
import type { EaselItem } from './easelItems.js';
import { renderingOf } from './PictureMount.js';
import type { Placed } from './useZoom.js';

interface Props {
  item: EaselItem;
  bitmap: ImageBitmap | undefined;
  placed: Placed;
  alt: string;
  clip?: string;
  opacity?: number;
  first: boolean;
}

function Painted({ bitmap, className, style }: { bitmap: ImageBitmap; className: string; style: object }): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const context = canvas.current!.getContext('2d', { willReadFrequently: true })!;
    context.clearRect(0, 0, bitmap.width, bitmap.height);
    context.drawImage(bitmap, 0, 0);
  }, [bitmap]);
  return <canvas ref={canvas} width={bitmap.width} height={bitmap.height} aria-hidden data-testid="painted" className={className} style={style} />;
}

/** One render in its place. */
export function EaselPicture({ item, bitmap, placed, alt, clip, opacity, first }: Props): ReactNode {
  const { left, top, width, height } = placed;
  const style = { left, top, width, height, imageRendering: renderingOf(placed), clipPath: clip, opacity };
  const className = 'pointer-events-none absolute max-w-none select-none';
  return (
    <>
      <img
        src={item.url}
        alt={alt}
        draggable={false}
        data-testid={first ? 'easel-picture' : `easel-picture-${item.place}`}
        className={className}
        // Two that are half clear would shine through twice.
        style={bitmap ? { ...style, opacity: 0 } : style}
      />
      {bitmap && <Painted bitmap={bitmap} className={className} style={style} />}
    </>
  );
}

import { type ReactNode, useRef, useState } from 'react';
import { useThumbnailQueue } from './thumbnailQueue.js';

/** Pixels across of a thumbnail in a strip. */
const STRIP_PIXELS = 96;

/** True for a thumbnail that the server draws, wider than in a strip. */
const isCoarseFirst = (src: string): boolean => /\/sets\/\d+\/thumbnail\?/.test(src) && !src.includes(`width=${STRIP_PIXELS}`);

/** Address of a small frame drawn by the kernel; it carries the content that it is made of, so that browsers may keep it. */
export function thumbnailUrl(
  setId: number,
  revision: number,
  what: { view: string; stage?: string } | { shot: string; index: number },
  version: string,
  width: 96 | 320 | 640,
): string {
  const query = new URLSearchParams({ revision: String(revision), width: String(width), v: version });
  for (const [k, v] of Object.entries(what)) query.set(k, String(v));
  return `/api/sets/${setId}/thumbnail?${query.toString()}`;
}

/** Address of a drawing to scale: the plan, cut at a height in metres where one is given, or the elevation. */
export function drawingThumbnailUrl(setId: number, revision: number, version: string, drawing: 'plan' | 'elevation', cut?: number): string {
  const query = new URLSearchParams({
    drawing,
    revision: String(revision),
    width: '320',
    v: version,
    ...(cut !== undefined && { cut: String(cut) }),
  });
  return `/api/sets/${setId}/thumbnail?${query.toString()}`;
}

/** Address of a rendered picture; it changes when the sampling went on, so that a page that shows it asks again. */
export function frameImageUrl(batch: number, frame: { id: number; samples: number | null }, what: 'picture' | 'thumb' = 'picture'): string {
  return `/api/batches/${batch}/frames/${frame.id}/${what}?v=${frame.samples ?? 0}`;
}

/** A picture's address that goes from coarse to fine: what stands in for it first, what is shown now, and what to call when the first is seen. */
export function useCoarseFirst(src: string): { first: string; shown: string; refine: () => void } {
  const [fine, setFine] = useState<string>();
  const first = isCoarseFirst(src) ? `${src}&soon=1` : src;
  return { first, shown: fine === src ? src : first, refine: () => setFine(src) };
}

/**
 * A small frame in its box; empty mount until there is something to see. One that has not been drawn yet comes up coarse, as a strip
 * has it, and is then as wide as it was asked for.
 */
export function Thumbnail({ src, alt, className }: { src: string; alt: string; className: string }): ReactNode {
  const image = useRef<HTMLImageElement>(null);
  const { first, shown, refine } = useCoarseFirst(src);
  useThumbnailQueue(image, shown, first);
  return (
    <img
      ref={image}
      src={shown}
      alt={alt}
      loading="lazy"
      onLoad={(e) => e.currentTarget.naturalWidth <= STRIP_PIXELS && refine()}
      className={`bg-mount ${className}`}
    />
  );
}

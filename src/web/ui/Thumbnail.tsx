import { type ReactNode, useRef } from 'react';
import { useThumbnailQueue } from './thumbnailQueue.js';

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

/** A small frame in its box; empty mount until it is drawn. */
export function Thumbnail({ src, alt, className }: { src: string; alt: string; className: string }): ReactNode {
  const image = useRef<HTMLImageElement>(null);
  useThumbnailQueue(image, src);
  return <img ref={image} src={src} alt={alt} loading="lazy" className={`bg-mount object-cover ${className}`} />;
}

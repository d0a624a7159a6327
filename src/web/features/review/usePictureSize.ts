/** How many pixels pictures have. */
import { useEffect, useState } from 'react';
import type { Extent } from './useZoom.js';

/** Natural sizes of pictures by their addresses; that of the one before stays until the next is known. */
export function usePictureSizes(urls: readonly string[]): (Extent | null)[] {
  const [sizes, setSizes] = useState<Record<number, Extent>>({});
  const key = urls.join('\n');
  useEffect(() => {
    const images = key.split('\n').map((url, i) => {
      const image = new Image();
      image.onload = () => setSizes((s) => ({ ...s, [i]: { width: image.naturalWidth, height: image.naturalHeight } }));
      image.src = url;
      return image;
    });
    return () => {
      for (const image of images) image.onload = null;
    };
  }, [key]);
  return urls.map((_, i) => sizes[i] ?? null);
}

/** Pixels of the image at that address; null until it is loaded. */
export const usePictureSize = (url: string): Extent | null => usePictureSizes([url])[0]!;

/** Pixels of a picture by its address; null until they are known. */
import { useEffect, useState } from 'react';
import type { Extent } from './useZoom.js';

export function usePictureSize(url: string): Extent | null {
  const [size, setSize] = useState<Extent | null>(null);
  useEffect(() => {
    const image = new Image();
    image.onload = () => setSize({ width: image.naturalWidth, height: image.naturalHeight });
    image.src = url;
    return () => {
      image.onload = null;
    };
  }, [url]);
  return size;
}

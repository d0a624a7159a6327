/** Fetches every render of a shot ahead, so that playing does not wait for them. */
import { useEffect, useState } from 'react';

/** How many of them are there. */
export function usePreloaded(urls: string[]): number {
  const [loaded, setLoaded] = useState(0);
  const key = urls.join('|');
  useEffect(() => {
    let live = true;
    let count = 0;
    setLoaded(0);
    const images = key
      .split('|')
      .filter(Boolean)
      .map((url) => {
        const image = new Image();
        image.onload = () => live && setLoaded(++count);
        image.src = url;
        return image;
      });
    return () => {
      live = false;
      for (const image of images) image.src = '';
    };
  }, [key]);
  return loaded;
}

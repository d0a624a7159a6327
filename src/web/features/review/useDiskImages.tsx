/** Images of this machine and kept live previews beside the renders on the easel: they are looked at, and go nowhere. */
import { ImagePlus } from 'lucide-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { DropdownMenu } from 'radix-ui';
import { useKeptImages } from '../../state/keptImages.js';
import { MENU_PANEL, MENU_ROW } from '../../ui/ActionItems.js';
import { PLAIN_BUTTON } from '../../ui/controls.js';
import { type EaselItem, PLACES, MAX_ON_EASEL } from './easelItems.js';
import { HELP, LABELS } from './words.js';

interface DiskImage {
  name: string;
  url: string;
}

/** Images from disk, compared with renders. */
export interface DiskImages {
  /** The renders, and the images behind them. */
  withImages: (items: EaselItem[]) => EaselItem[];
  count: number;
  removeLast: () => void;
  button: ReactNode;
}

/** @param taken places on the easel that renders take. */
export function useDiskImages(taken: number): DiskImages {
  const [images, setImages] = useState<DiskImage[]>([]);
  const previews = useKeptImages();
  const input = useRef<HTMLInputElement>(null);
  const kept = useRef(images);
  kept.current = images;
  useEffect(
    () => () => {
      for (const { url } of kept.current) URL.revokeObjectURL(url);
    },
    [],
  );
  const add = (name: string, bytes: Blob): void => setImages([...images, { name, url: URL.createObjectURL(bytes) }]);
  return {
    withImages: (items) => [
      ...items,
      ...images
        .slice(0, MAX_ON_EASEL - items.length)
        .map(({ name, url }, i) => ({ key: url, place: PLACES[items.length + i]!, label: name, frame: null, url })),
    ],
    count: images.length,
    removeLast: () => {
      const last = images.at(-1);
      if (last) URL.revokeObjectURL(last.url);
      setImages(images.slice(0, -1));
    },
    button: (
      <>
        <DropdownMenu.Root>
          <DropdownMenu.Trigger
            className={`${PLAIN_BUTTON} disabled:cursor-not-allowed disabled:opacity-50`}
            aria-label={LABELS.compareWithImage}
            title={HELP.compareWithImage}
            disabled={taken + images.length >= MAX_ON_EASEL}
          >
            <ImagePlus size={16} aria-hidden />
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content align="end" className={MENU_PANEL}>
              <DropdownMenu.Item className={MENU_ROW} onSelect={() => input.current?.click()}>
                {LABELS.imageFromDisk}
              </DropdownMenu.Item>
              {previews.length > 0 && <DropdownMenu.Label className="px-3 pt-1.5 text-xs text-graphite">{LABELS.keptPreviews}</DropdownMenu.Label>}
              {previews.map((preview) => (
                <DropdownMenu.Item key={preview.url} className={MENU_ROW} onSelect={() => add(preview.name, preview.bytes)}>
                  {preview.name}
                  <img src={preview.url} alt="" className="h-8" />
                </DropdownMenu.Item>
              ))}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
        <input
          ref={input}
          type="file"
          accept="image/png,image/jpeg,image/webp,image/avif"
          aria-label={LABELS.imageFile}
          className="hidden"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) add(file.name, file);
            e.target.value = '';
          }}
        />
      </>
    ),
  };
}

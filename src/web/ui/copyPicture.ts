/** Puts a picture on the clipboard, as PNG: browsers take no other kind there. */
import type { Box } from '../../core/review/crop.js';

/** What an address shows as PNG, all of it or the part in a box. */
export async function croppedPng(url: string, box?: Box): Promise<Blob> {
  const image = await createImageBitmap(await (await fetch(url)).blob());
  const { x, y, width, height } = box ?? { x: 0, y: 0, width: image.width, height: image.height };
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.drawImage(image, -x, -y);
  return canvas.convertToBlob({ type: 'image/png' });
}

/** Copies what a blob of any image type shows, or a part of it. Rejects with a sentence where the browser does not allow it. */
export async function copyPicture(url: string, box?: Box): Promise<void> {
  if (!('ClipboardItem' in window)) throw new Error('This browser cannot copy images. Save the file instead.');
  // Asked for before the picture is there: some browsers allow it only in the click itself.
  await navigator.clipboard.write([new ClipboardItem({ 'image/png': croppedPng(url, box) })]);
}

/** Puts a picture on the clipboard, as PNG: browsers take no other kind there. */

/** Copies what a blob of any image type shows. Rejects with a sentence where the browser does not allow it. */
export async function copyPicture(url: string): Promise<void> {
  if (!('ClipboardItem' in window)) throw new Error('This browser cannot copy images. Save the file instead.');
  const png = async (): Promise<Blob> => {
    const image = await createImageBitmap(await (await fetch(url)).blob());
    const canvas = new OffscreenCanvas(image.width, image.height);
    canvas.getContext('2d')!.drawImage(image, 0, 0);
    return canvas.convertToBlob({ type: 'image/png' });
  };
  // Asked for before the picture is there: some browsers allow it only in the click itself.
  await navigator.clipboard.write([new ClipboardItem({ 'image/png': png() })]);
}

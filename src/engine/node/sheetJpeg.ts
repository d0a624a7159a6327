/** Renders as sheets hold them. */
import type { Sharp } from 'sharp';
import type { SheetImage } from '../../core/handover/sheets/page.js';
import { MM_PER_INCH, MOUNT } from './sheetFonts.js';

/** Pixels an inch. */
const DPI = 200;

/** A picture for its box, as JPEG at 200 pixels an inch; smaller ones stay as they are. */
export const sheetJpeg = (picture: Sharp, { width, height }: Pick<SheetImage<unknown>, 'width' | 'height'>): Promise<Buffer> =>
  picture
    .flatten({ background: MOUNT })
    .resize({
      width: Math.ceil((width / MM_PER_INCH) * DPI),
      height: Math.ceil((height / MM_PER_INCH) * DPI),
      fit: 'inside',
      withoutEnlargement: true,
    })
    .jpeg({ quality: 90, chromaSubsampling: '4:4:4' })
    .toBuffer();

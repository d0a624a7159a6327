/** Types of files that frames are written in. */
import { ENVIRONMENT_ENDINGS } from '../model/fileExtensions.js';

/** Ids of file types. */
export const FILE_TYPES = ['png', 'jpeg', 'tiff', 'webp', 'avif', 'bmp', 'exr', 'hdr'] as const;
/** One of {@link FILE_TYPES}. */
export type FileType = (typeof FILE_TYPES)[number];

/** Ending of each file type, without the dot. */
export const EXTENSIONS: Readonly<Record<FileType, string>> = {
  png: 'png',
  jpeg: 'jpg',
  tiff: 'tif',
  webp: 'webp',
  avif: 'avif',
  bmp: 'bmp',
  exr: 'exr',
  hdr: 'hdr',
};

/** Names of images that were uploaded: content hash and ending, of textures and of light from all around. */
export const TEXTURE_NAME = /^[0-9a-f]{64}\.(png|jpe?g|webp)$/;
/** Names under which environment maps are kept: content hash and ending. */
export const ENVIRONMENT_NAME = new RegExp(`^[0-9a-f]{64}\\.(${ENVIRONMENT_ENDINGS.join('|')})$`);

/** Compressions of TIFF that lose nothing, by the standard's names. */
export const TIFF_COMPRESSIONS = ['none', 'lzw', 'deflate'] as const;
/** One of {@link TIFF_COMPRESSIONS}. */
export type TiffCompression = (typeof TIFF_COMPRESSIONS)[number];
/** How JPEG keeps colour: at every pixel, or at every second one in either direction. */
export const CHROMA = ['4:4:4', '4:2:0'] as const;
/** One of {@link CHROMA}. */
export type Chroma = (typeof CHROMA)[number];

/** How several passes lie in OpenEXR where they do not share one part: in a part each, or in a file each. */
export const EXR_SPLITS = ['parts', 'files'] as const;
/** One of {@link EXR_SPLITS}. */
export type ExrSplit = (typeof EXR_SPLITS)[number];

/** Whether a file of that kind holds linear light as numbers: before the grade, and beyond white. */
export const isLinear = ({ type, bits }: { type: FileType; bits: number }): boolean =>
  type === 'exr' || type === 'hdr' || (type === 'tiff' && bits === 32);

/** Whether a file of that kind holds all passes of a frame. */
export const holdsAllPasses = ({ type, exrSplit }: { type: FileType; exrSplit?: ExrSplit }): boolean => type === 'exr' && exrSplit !== 'files';

/** Whether browsers show a file of that name. */
export const isForBrowsers = (name: string): boolean => /\.(png|jpe?g|webp|avif)$/i.test(name);

/** The file of a frame that a person looks at: one that browsers show, else a TIFF. */
export const fileToShow = (files: readonly string[]): string | undefined => files.find(isForBrowsers) ?? files.find((f) => f.endsWith('.tif'));

/** What files can be, type and bits a channel: what a client can ask for, and a package can have. */
export const DELIVERY_FILE_TYPES = [
  'png 8',
  'png 16',
  'jpeg 8',
  'tiff 8',
  'tiff 16',
  'tiff 32',
  'webp 8',
  'avif 8',
  'bmp 8',
  'exr 16',
  'exr 32',
  'hdr 32',
] as const;
/** One of {@link DELIVERY_FILE_TYPES}. */
export type DeliveryFileType = (typeof DELIVERY_FILE_TYPES)[number];

/** Type and bits a channel of a file, as "png 16". */
export const fileTypeOf = ({ type, bits }: { type: FileType; bits: number }): DeliveryFileType => `${type} ${bits}` as DeliveryFileType;

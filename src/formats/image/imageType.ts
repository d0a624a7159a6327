/** What reads images of a type that the image library does not. */

/** Width and height in pixels, and RGBA of 8 bits each, by rows from the top. */
export interface RawImage {
  width: number;
  height: number;
  pixels: Uint8Array;
}

/** A type that says its size before anything is decoded. */
export interface ImageType {
  /** @param name with its ending. */
  matches: (name: string, bytes: Uint8Array) => boolean;
  size: (view: DataView) => { width: number; height: number };
  /** Rejects where it is damaged, or of a sort that is not read. */
  decode: (bytes: Uint8Array) => Promise<RawImage>;
}

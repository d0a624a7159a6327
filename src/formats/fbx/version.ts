/** The first bytes of an FBX file: whether it is one, and of which version. */

const head = (bytes: Uint8Array, length: number): string => new TextDecoder('latin1').decode(bytes.subarray(0, length));

/** Whether it is binary: its first 23 bytes are a sentence, two fixed bytes and a nought. */
export const isBinaryFbx = (bytes: Uint8Array): boolean => / FBX Binary {2}\0\x1a\0$/.test(head(bytes, 23));

/** Whether it is text: a comment with the version, or the header's own section, come first. */
export const isTextFbx = (bytes: Uint8Array): boolean => /^\s*;\s*FBX \d|^\s*FBXHeaderExtension\s*:/m.test(head(bytes, 2048));

/** The version in thousandths, such as 7400; null where it is not said. */
export function fbxVersion(bytes: Uint8Array): number | null {
  if (isBinaryFbx(bytes)) return bytes.length < 27 ? null : new DataView(bytes.buffer, bytes.byteOffset).getUint32(23, true);
  const said = /FBXVersion\s*:\s*(\d+)/.exec(head(bytes, 16_384));
  return said ? Number(said[1]) : null;
}

/**
 * Writes Radiance HDR: linear light, three mantissas of eight bits and a common exponent a pixel, runs of each told apart
 * (G. Ward, "Real Pixels", Graphics Gems II, 1991; "Radiance File Formats", picture files). No library in the registry writes it.
 */

/** Shortest run that is told as one. */
const SHORTEST_RUN = 4;
const LONGEST_RUN = 127;
const LONGEST_COPY = 128;
/** What is added to the exponent of two. */
const BIAS = 128;
/** Primaries and white of ITU-R BT.709-6, table 1. */
const PRIMARIES = '0.640 0.330 0.300 0.600 0.150 0.060 0.3127 0.3290';

/** Mantissas and exponent of a colour, at `o`; what is below 0 comes to it. */
function toRgbe(r: number, g: number, b: number, out: Uint8Array, o: number): void {
  const most = Math.max(r, g, b);
  // The least exponent that there is; what is below is nothing.
  if (!(most > 2 ** (1 - BIAS))) return void out.fill(0, o, o + 4);
  let exponent = Math.floor(Math.log2(most)) + 1;
  // A mantissa that would be rounded to one has the next exponent.
  if (Math.round(most * 2 ** (8 - exponent)) > 255) exponent++;
  const scale = 2 ** (8 - exponent);
  out[o] = Math.round(Math.max(0, r) * scale);
  out[o + 1] = Math.round(Math.max(0, g) * scale);
  out[o + 2] = Math.round(Math.max(0, b) * scale);
  out[o + 3] = exponent + BIAS;
}

/** One component of a row: runs as 128 + length and value, all else as length and values. */
function pack(row: Uint8Array, out: number[]): void {
  const runAt = (i: number): number => {
    let n = 1;
    while (n < LONGEST_RUN && row[i + n] === row[i]) n++;
    return n;
  };
  for (let i = 0; i < row.length;) {
    const run = runAt(i);
    if (run >= SHORTEST_RUN) {
      out.push(128 + run, row[i]!);
      i += run;
      continue;
    }
    const from = i;
    while (i < row.length && i - from < LONGEST_COPY && runAt(i) < SHORTEST_RUN) i++;
    out.push(i - from, ...row.subarray(from, i));
  }
}

/**
 * Linear colours, three a pixel, rows from the top, as a file. @param maker program that the file names.
 * Throws where the width is beyond what rows with runs may have, 8 to 32 767.
 */
export function writeRadiance(colours: Float32Array, width: number, height: number, maker?: string, pixelAspect = 1): Buffer {
  if (width < 8 || width > 32_767) throw new Error(`Radiance HDR takes 8 to 32 767 pixels across, not ${width}.`);
  const head = [
    '#?RADIANCE',
    ...(maker === undefined ? [] : [`SOFTWARE=${maker}`]),
    `PRIMARIES=${PRIMARIES}`,
    // Height of a pixel by its width.
    ...(pixelAspect === 1 ? [] : [`PIXASPECT=${1 / pixelAspect}`]),
    'FORMAT=32-bit_rle_rgbe',
    '',
    `-Y ${height} +X ${width}`,
    '',
  ].join('\n');
  const parts: Buffer[] = [Buffer.from(head, 'latin1')];
  const pixels = new Uint8Array(width * 4);
  const component = new Uint8Array(width);
  for (let y = 0; y < height; y++) {
    for (let x = 0, i = y * width * 3; x < width; x++, i += 3) toRgbe(colours[i]!, colours[i + 1]!, colours[i + 2]!, pixels, x * 4);
    const out: number[] = [2, 2, width >> 8, width & 255];
    for (let c = 0; c < 4; c++) {
      for (let x = 0; x < width; x++) component[x] = pixels[x * 4 + c]!;
      pack(component, out);
    }
    parts.push(Buffer.from(out));
  }
  return Buffer.concat(parts);
}

/** Pixels of a Radiance picture, read to its last row so that a torn one is found. Throws where it is none as written here, or torn. */
export function readRadianceSize(bytes: Buffer): { width: number; height: number } {
  const end = bytes.indexOf('\n\n');
  const line = end < 0 ? '' : bytes.toString('latin1', end + 2, bytes.indexOf('\n', end + 2));
  const size = /^-Y (\d+) \+X (\d+)$/.exec(line);
  if (!size || !bytes.toString('latin1', 0, 2).startsWith('#?')) throw new Error('It is no Radiance HDR file, or it is damaged.');
  const [height, width] = [Number(size[1]), Number(size[2])];
  let at = end + 2 + line.length + 1;
  for (let y = 0; y < height; y++) {
    if (bytes[at] !== 2 || bytes[at + 1] !== 2 || bytes[at + 2]! * 256 + bytes[at + 3]! !== width) throw new Error(`It is torn in row ${y + 1}.`);
    at += 4;
    for (let x = 0; x < 4 * width;) {
      const count = bytes[at]!;
      if (!(count > 0)) throw new Error(`It is torn in row ${y + 1}.`);
      x += count > 128 ? count - 128 : count;
      at += count > 128 ? 2 : 1 + count;
    }
  }
  if (at !== bytes.length) throw new Error('It is torn, or something follows its last row.');
  return { width, height };
}

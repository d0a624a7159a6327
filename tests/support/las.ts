/**
 * Writes LAS files record by record, by the ASPRS LAS Specification 1.4 R15, and LAZ of one point (Isenburg, "LASzip: lossless
 * compression of LiDAR data", 2013, and its open source; from memory).
 */

/** A point as it is to be written. */
export interface Point {
  at: [number, number, number];
  rgb?: [number, number, number];
  kind?: number;
  echo?: number;
  withheld?: boolean;
}

/** How a cloud is to be written. */
export interface Written {
  format?: 0 | 2 | 7;
  scale?: number;
  offset?: [number, number, number];
  compressed?: boolean;
}

const BYTES = { 0: 20, 2: 26, 7: 36 };

/** A record that says by which items points are compressed: places and colours. */
function lazRecord(): Buffer {
  const record = Buffer.alloc(54 + 34 + 12);
  record.write('laszip encoded', 2, 'latin1');
  record.writeUInt16LE(22_204, 18);
  record.writeUInt16LE(46, 20);
  const to = 54;
  record.writeUInt16LE(2, to);
  record.writeUInt8(2, to + 4);
  record.writeUInt8(2, to + 5);
  record.writeUInt32LE(50_000, to + 12);
  record.writeBigInt64LE(-1n, to + 16);
  record.writeBigInt64LE(-1n, to + 24);
  record.writeUInt16LE(2, to + 32);
  [6, 20, 2, 8, 6, 2].forEach((v, i) => record.writeUInt16LE(v, to + 34 + 2 * i));
  return record;
}

/** A LAS file of the points; compressed only of one point, which the compression keeps as it is. */
export function las(points: Point[], { format = 2, scale = 0.001, offset = [0, 0, 0], compressed = false }: Written = {}): Uint8Array {
  const wide = format === 7;
  const head = Buffer.alloc(wide ? 375 : 227);
  const records = compressed ? lazRecord() : Buffer.alloc(0);
  head.write('LASF', 0, 'latin1');
  head.writeUInt8(1, 24);
  head.writeUInt8(wide ? 4 : 2, 25);
  head.writeUInt16LE(head.length, 94);
  head.writeUInt32LE(head.length + records.length, 96);
  head.writeUInt32LE(compressed ? 1 : 0, 100);
  head.writeUInt8(format | (compressed ? 0x80 : 0), 104);
  head.writeUInt16LE(BYTES[format], 105);
  head.writeUInt32LE(wide ? 0 : points.length, 107);
  for (let k = 0; k < 3; k++) {
    head.writeDoubleLE(scale, 131 + 8 * k);
    head.writeDoubleLE(offset[k]!, 155 + 8 * k);
  }
  if (wide) head.writeBigUInt64LE(BigInt(points.length), 247);
  const body = points.map(({ at, rgb = [0, 0, 0], kind = 1, echo = 0, withheld = false }) => {
    const point = Buffer.alloc(BYTES[format]);
    at.forEach((v, k) => point.writeInt32LE(Math.round((v - offset[k]!) / scale), 4 * k));
    point.writeUInt16LE(echo, 12);
    if (wide) {
      point.writeUInt8(withheld ? 4 : 0, 15);
      point.writeUInt8(kind, 16);
    } else point.writeUInt8(kind | (withheld ? 128 : 0), 15);
    if (format > 0) rgb.forEach((v, k) => point.writeUInt16LE(v, (wide ? 30 : 20) + 2 * k));
    return point;
  });
  // A compressed chunk begins with its first point as it is; where the table of chunks is stands before it.
  const table = Buffer.alloc(compressed ? 8 : 0);
  if (compressed) table.writeBigInt64LE(BigInt(head.length + records.length + 8 + BYTES[format] + 8));
  const end = Buffer.alloc(compressed ? 8 + 8 + 8 : 0);
  if (compressed) end.writeUInt32LE(1, 8 + 4);
  return new Uint8Array(Buffer.concat([head, records, table, ...body, end]));
}

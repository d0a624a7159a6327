/** How large a model is in its file's own units, told from its vertices alone, before it is brought in. */

/** Larger files would take too long to look through on the page. */
export const MAX_SCANNED_BYTES = 96 * 2 ** 20;

/** Widths along the file's x, y and z, or null where they cannot be told. */
export function quickBounds(name: string, bytes: Uint8Array): [number, number, number] | null {
  if (bytes.length > MAX_SCANNED_BYTES) return null;
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  const take = (x: number, y: number, z: number): void => {
    [x, y, z].forEach((v, i) => {
      low[i] = Math.min(low[i]!, v);
      high[i] = Math.max(high[i]!, v);
    });
  };
  const ending = name.toLowerCase().split('.').at(-1);
  if (ending === 'stl' && bytes.length > 84 && bytes.subarray(0, 1024).includes(0)) stlVertices(bytes, take);
  else if (ending === 'ply' && !/^ply\s+format ascii/.test(head(bytes))) {
    if (!plyVertices(bytes, take)) return null;
  } else textVertices(ending ?? '', bytes, take);
  const size = high.map((h, i) => h - low[i]!) as [number, number, number];
  return size.every(Number.isFinite) ? size : null;
}

type BoundsCollector = (x: number, y: number, z: number) => void;

function head(bytes: Uint8Array): string {
  return new TextDecoder('latin1').decode(bytes.subarray(0, 65_536));
}

function stlVertices(bytes: Uint8Array, take: BoundsCollector): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = Math.min(view.getUint32(80, true), Math.floor((bytes.length - 84) / 50));
  for (let t = 0; t < count; t++) {
    for (let k = 0; k < 3; k++) {
      const at = 84 + t * 50 + 12 + k * 12;
      take(view.getFloat32(at, true), view.getFloat32(at + 4, true), view.getFloat32(at + 8, true));
    }
  }
}

const BYTES: Record<string, number> = {
  char: 1,
  uchar: 1,
  int8: 1,
  uint8: 1,
  short: 2,
  ushort: 2,
  int16: 2,
  uint16: 2,
  int: 4,
  uint: 4,
  int32: 4,
  uint32: 4,
  float: 4,
  float32: 4,
  double: 8,
  float64: 8,
};

/** Binary PLY whose vertices come first and begin with x, y and z as float or double. */
function plyVertices(bytes: Uint8Array, take: BoundsCollector): boolean {
  const text = head(bytes);
  const end = /end_header\r?\n/.exec(text);
  const vertex = /element vertex (\d+)\s+((?:property \w+ \w+\s+)+)/.exec(text);
  if (!end || !vertex || text.indexOf('element ') !== vertex.index) return false;
  const properties = [...vertex[2]!.matchAll(/property (\w+) (\w+)/g)].map((m) => ({ size: BYTES[m[1]!], name: m[2] }));
  if (
    properties
      .slice(0, 3)
      .map((p) => p.name)
      .join() !== 'x,y,z' ||
    properties.some((p) => p.size === undefined)
  )
    return false;
  const stride = properties.reduce((n, p) => n + p.size!, 0);
  const wide = properties[0]!.size === 8;
  const little = /format binary_little_endian/.test(text);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const first = end.index + end[0].length;
  const count = Math.min(Number(vertex[1]), Math.floor((bytes.length - first) / stride));
  const at = (p: number): number => (wide ? view.getFloat64(p, little) : view.getFloat32(p, little));
  const step = wide ? 8 : 4;
  for (let i = 0; i < count; i++) {
    const p = first + i * stride;
    take(at(p), at(p + step), at(p + 2 * step));
  }
  return true;
}

/** OBJ "v x y z", STL "vertex x y z", ASCII PLY rows after its header. */
function textVertices(ending: string, bytes: Uint8Array, take: BoundsCollector): void {
  let text = new TextDecoder('latin1').decode(bytes);
  let rows = Infinity;
  let line = ending === 'stl' ? /^\s*vertex\s+(\S+)\s+(\S+)\s+(\S+)/gm : /^v\s+(\S+)\s+(\S+)\s+(\S+)/gm;
  if (ending === 'ply') {
    rows = Number(/element vertex (\d+)/.exec(text)?.[1] ?? 0);
    text = text.slice(text.indexOf('end_header') + 10);
    line = /^\s*(\S+)\s+(\S+)\s+(\S+)/gm;
  }
  for (const m of text.matchAll(line)) {
    if (rows-- <= 0) break;
    take(Number(m[1]), Number(m[2]), Number(m[3]));
  }
}

/**
 * A small FBX file as text and as binary, written from the records up: no library writes the format. The layout of records is
 * as it is described for version 7.4 in public (from memory); a reader that is not ours reads it back.
 */

type Value = number | string | boolean | { long: number } | { doubles: number[] } | { ints: number[] } | { raw: Uint8Array };

interface Record {
  name: string;
  values: Value[];
  children: Record[];
}

const record = (name: string, values: Value[] = [], children: Record[] = []): Record => ({ name, values, children });
const long = (n: number): Value => ({ long: n });
const P = (name: string, kind: string, ...values: Value[]): Record => record('P', [name, kind, '', 'A', ...values]);

/** What the file is of. */
export interface FbxOptions {
  /** Edges of the box along x, y and z, in the file's unit. */
  size: [number, number, number];
  /** Centimetres of a unit. */
  unit: number;
  /** 1 for +Y, 2 for +Z. */
  upAxis: 1 | 2;
  /** A picture as it is in a file, for the base colour of the first material; in the file, or beside it under its name. */
  picture?: { name: string; bytes: Uint8Array | null };
}

/** A box of six faces, the last of another material, in a group; a camera and a light beside it. */
function sceneOf({ size: [x, y, z], unit, upAxis, picture }: FbxOptions): Record[] {
  const corners = [0, 1].flatMap((k) => [0, 1].flatMap((j) => [0, 1].map((i) => [i * x, j * y, k * z])));
  const faces = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  const layer = (type: string): Record => record('LayerElement', [], [record('Type', [type]), record('TypedIndex', [0])]);
  const geometry = record(
    'Geometry',
    [long(100), 'Geometry::Box', 'Mesh'],
    [
      record('Vertices', [{ doubles: corners.flat() }]),
      // The last corner of a face is written as its complement.
      record('PolygonVertexIndex', [{ ints: faces.flatMap((f) => f.map((v, i) => (i === f.length - 1 ? -v - 1 : v))) }]),
      record('GeometryVersion', [124]),
      record(
        'LayerElementUV',
        [0],
        [
          record('Version', [101]),
          record('Name', ['map']),
          record('MappingInformationType', ['ByPolygonVertex']),
          record('ReferenceInformationType', ['Direct']),
          record('UV', [{ doubles: faces.flatMap(() => [0, 0, 1, 0, 1, 1, 0, 1]) }]),
        ],
      ),
      record(
        'LayerElementMaterial',
        [0],
        [
          record('Version', [101]),
          record('Name', ['']),
          record('MappingInformationType', ['ByPolygon']),
          record('ReferenceInformationType', ['IndexToDirect']),
          record('Materials', [{ ints: [0, 0, 0, 0, 0, 1] }]),
        ],
      ),
      record('Layer', [0], [record('Version', [100]), layer('LayerElementUV'), layer('LayerElementMaterial')]),
    ],
  );
  const model = (id: number, name: string, kind: string, at: [number, number, number] = [0, 0, 0]): Record =>
    record(
      'Model',
      [long(id), `Model::${name}`, kind],
      [record('Version', [232]), record('Properties70', [], [P('Lcl Translation', 'Lcl Translation', ...at)])],
    );
  const material = (id: number, name: string, values: Record[]): Record =>
    record(
      'Material',
      [long(id), `Material::${name}`, ''],
      [record('Version', [102]), record('ShadingModel', ['lambert']), record('Properties70', [], values)],
    );
  const attribute = (id: number, name: string, kind: string, values: Record[]): Record =>
    record('NodeAttribute', [long(id), `NodeAttribute::${name}`, kind], [record('Properties70', [], values)]);
  const join = (from: number, to: number, property?: string): Record =>
    record('C', property === undefined ? ['OO', long(from), long(to)] : ['OP', long(from), long(to), property]);
  const textures = picture
    ? [
        record(
          'Video',
          [long(500), 'Video::Tiles', 'Clip'],
          [
            record('Type', ['Clip']),
            record('Filename', [`C:\\work\\maps\\${picture.name}`]),
            record('RelativeFilename', [`maps\\${picture.name}`]),
            ...(picture.bytes ? [record('Content', [{ raw: picture.bytes }])] : []),
          ],
        ),
        record(
          'Texture',
          [long(501), 'Texture::Tiles', ''],
          [
            record('Type', ['TextureVideoClip']),
            record('FileName', [`C:\\work\\maps\\${picture.name}`]),
            record('RelativeFilename', [`maps\\${picture.name}`]),
          ],
        ),
      ]
    : [];
  return [
    record('FBXHeaderExtension', [], [record('FBXHeaderVersion', [1003]), record('FBXVersion', [7400])]),
    record(
      'GlobalSettings',
      [],
      [record('Version', [1000]), record('Properties70', [], [P('UpAxis', 'int', upAxis), P('UnitScaleFactor', 'double', unit)])],
    ),
    record(
      'Objects',
      [],
      [
        geometry,
        model(200, 'Landing', 'Null'),
        model(201, 'Kiosk roof', 'Mesh', [10, 0, 0]),
        model(202, 'From the quay', 'Camera', [-100, 0, 0]),
        model(203, 'Ceiling lamp', 'Light'),
        material(300, 'Red paint', [P('DiffuseColor', 'Color', 0.8, 0.1, 0.1)]),
        material(301, 'Pane', [P('DiffuseColor', 'Color', 1, 1, 1), P('TransparencyFactor', 'Number', 0.8)]),
        attribute(400, 'From the quay', 'Camera', [
          P('AspectWidth', 'double', 300),
          P('AspectHeight', 'double', 200),
          P('FieldOfView', 'FieldOfView', 40),
        ]),
        attribute(401, 'Ceiling lamp', 'Light', [P('Intensity', 'Number', 100)]),
        ...textures,
      ],
    ),
    record(
      'Connections',
      [],
      [
        join(200, 0),
        join(201, 200),
        join(202, 0),
        join(203, 0),
        join(100, 201),
        join(300, 201),
        join(301, 201),
        join(400, 202),
        join(401, 203),
        ...(picture ? [join(501, 300, 'DiffuseColor'), join(500, 501)] : []),
      ],
    ),
  ];
}

/** The file as text. */
export function fbxText(options: FbxOptions): Uint8Array {
  const lines: string[] = ['; FBX 7.4.0 project file', ''];
  const put = ({ name, values, children }: Record, depth: number): void => {
    const indent = '\t'.repeat(depth);
    const [only] = values;
    if (only !== undefined && typeof only === 'object' && !('long' in only)) {
      if ('raw' in only) return void lines.push(`${indent}${name}: ,`, `${indent}\t"${Buffer.from(only.raw).toString('base64')}"`);
      const list = 'doubles' in only ? only.doubles : only.ints;
      lines.push(`${indent}${name}: *${list.length} {`, `${indent}\ta: ${list.join(',')}`, `${indent}}`);
      return;
    }
    const written = values.map((v) => (typeof v === 'string' ? `"${v}"` : String(typeof v === 'object' && 'long' in v ? v.long : Number(v))));
    // Properties and connections keep to commas without spaces, as readers expect them.
    const said = written.join(name === 'P' || name === 'C' ? ',' : ', ');
    if (children.length === 0) return void lines.push(`${indent}${name}: ${said}`);
    lines.push(`${indent}${name}: ${said} {`);
    for (const child of children) put(child, depth + 1);
    lines.push(`${indent}}`);
  };
  for (const top of sceneOf(options)) put(top, 0);
  return new TextEncoder().encode(`${lines.join('\n')}\n`);
}

/** The 23 bytes that every binary file begins with. */
const BINARY_HEAD = Buffer.from('4b61796461726120464258204269' + '6e6172792020001a00', 'hex');

function valueBytes(value: Value): Buffer {
  const typed = (type: string, length: number, write: (b: Buffer) => void): Buffer => {
    const b = Buffer.alloc(1 + length);
    b.write(type, 0, 'latin1');
    write(b.subarray(1));
    return b;
  };
  const array = (type: string, list: number[], bytes: number, write: (b: Buffer, v: number, at: number) => void): Buffer =>
    typed(type, 12 + list.length * bytes, (b) => {
      b.writeUInt32LE(list.length, 0);
      b.writeUInt32LE(0, 4);
      b.writeUInt32LE(list.length * bytes, 8);
      list.forEach((v, i) => write(b, v, 12 + i * bytes));
    });
  if (typeof value === 'number')
    return Number.isInteger(value) ? typed('I', 4, (b) => b.writeInt32LE(value)) : typed('D', 8, (b) => b.writeDoubleLE(value));
  if (typeof value === 'boolean') return typed('C', 1, (b) => b.writeUInt8(value ? 1 : 0));
  if (typeof value === 'string') {
    // Names come before their class here, behind two bytes that text has not.
    const [kind, name] = value.split('::');
    const bytes = Buffer.from(name === undefined ? value : `${name}\0\x01${kind}`, 'utf8');
    return typed('S', 4 + bytes.length, (b) => {
      b.writeUInt32LE(bytes.length);
      bytes.copy(b, 4);
    });
  }
  if ('long' in value) return typed('L', 8, (b) => b.writeBigInt64LE(BigInt(value.long)));
  if ('doubles' in value) return array('d', value.doubles, 8, (b, v, at) => b.writeDoubleLE(v, at));
  if ('ints' in value) return array('i', value.ints, 4, (b, v, at) => b.writeInt32LE(v, at));
  return typed('R', 4 + value.raw.length, (b) => {
    b.writeUInt32LE(value.raw.length);
    Buffer.from(value.raw).copy(b, 4);
  });
}

/** The file as binary, of version 7.4. */
export function fbxBinary(options: FbxOptions): Uint8Array {
  const recordBytes = ({ name, values, children }: Record, start: number): Buffer => {
    const list = Buffer.concat(values.map(valueBytes));
    const head = Buffer.alloc(13 + name.length);
    let at = start + head.length + list.length;
    const inner: Buffer[] = [];
    for (const child of children) {
      const bytes = recordBytes(child, at);
      inner.push(bytes);
      at += bytes.length;
    }
    if (children.length > 0) inner.push(Buffer.alloc(13));
    const end = start + head.length + list.length + inner.reduce((n, b) => n + b.length, 0);
    head.writeUInt32LE(end, 0);
    head.writeUInt32LE(values.length, 4);
    head.writeUInt32LE(list.length, 8);
    head.writeUInt8(name.length, 12);
    head.write(name, 13, 'latin1');
    return Buffer.concat([head, list, ...inner]);
  };
  const version = Buffer.alloc(4);
  version.writeUInt32LE(7400);
  const parts: Buffer[] = [BINARY_HEAD, version];
  let at = 27;
  for (const top of sceneOf(options)) {
    const bytes = recordBytes(top, at);
    parts.push(bytes);
    at += bytes.length;
  }
  // An empty record ends the list, and readers look for some room behind it.
  parts.push(Buffer.alloc(13 + 176));
  return new Uint8Array(Buffer.concat(parts));
}

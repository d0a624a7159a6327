/** What of a CityJSON file is read (CityJSON 2.0.1, OGC 20-072; from memory), and its check. */
import { DamageError, ModelError, type SourceFile, textOf } from '../format.js';

/** Lists within lists: of vertex numbers, or of what is said of surfaces. */
export type Nested = number | null | readonly Nested[];

/** A geometry of an object, or a template of one. */
export interface CityGeometry {
  type: string;
  lod?: string | number;
  boundaries?: Nested;
  semantics?: { surfaces?: { type?: string }[]; values?: Nested };
  /** By theme: a number for all surfaces, or one for each. */
  material?: Record<string, { value?: number; values?: Nested }>;
  texture?: object;
  /** Of an instance: the template's number, and 16 numbers by rows. */
  template?: number;
  transformationMatrix?: number[];
}

/** A thing of the town. */
export interface CityObject {
  type?: string;
  attributes?: Record<string, unknown> | null;
  geometry?: CityGeometry[];
  parents?: string[];
  children?: string[];
}

/** Colours are linear neither in the specification nor in files: taken as they are displayed. */
export interface CityMaterial {
  name?: string;
  diffuseColor?: number[];
  emissiveColor?: number[];
  transparency?: number;
  shininess?: number;
}

/** A whole file. */
export interface CityDocument {
  objects: [string, CityObject][];
  /** Three numbers each, in metres of the file. */
  vertices: Float64Array;
  templates: CityGeometry[];
  templateVertices: readonly (readonly number[])[];
  materials: CityMaterial[];
  themes: { material?: string };
  reference: string | null;
}

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);
const listOf = (value: unknown): unknown[] => (Array.isArray(value) ? value : []);
const recordOf = (value: unknown): Record<string, unknown> => (isRecord(value) ? value : {});

/** Three numbers, by the factors of a transform where the file has one. */
function placesOf(vertices: readonly unknown[], transform: Record<string, unknown>): Float64Array {
  const scale = listOf(transform.scale ?? [1, 1, 1]).map(Number);
  const translate = listOf(transform.translate ?? [0, 0, 0]).map(Number);
  const out = new Float64Array(vertices.length * 3);
  vertices.forEach((vertex, i) => {
    const said = listOf(vertex);
    for (let k = 0; k < 3; k++) out[3 * i + k] = Number(said[k]) * scale[k]! + translate[k]!;
  });
  if (!out.every(Number.isFinite)) throw new DamageError('it has a coordinate that is not a number');
  return out;
}

/** Reads the file's text. @throws where it is none, of an earlier version, or a sequence of features. */
export function openCity(file: SourceFile): CityDocument {
  let json: unknown;
  try {
    json = JSON.parse(textOf(file.bytes));
  } catch {
    throw new ModelError(
      `"${file.name}" is not a complete CityJSON file: it is cut short or damaged, or it is a sequence of features, one per line. Export it as one CityJSON file.`,
    );
  }
  const { type, version, CityObjects, vertices, transform, metadata, appearance, ...rest } = recordOf(json);
  if (type === 'CityJSONFeature') throw new ModelError(`"${file.name}" is a single feature of a sequence. Export the whole as one CityJSON file.`);
  if (type !== 'CityJSON' || !isRecord(CityObjects) || !Array.isArray(vertices)) throw new DamageError('it has no city objects or no vertices');
  if (!/^[12]\./.test(String(version)))
    throw new ModelError(`"${file.name}" is CityJSON ${String(version).slice(0, 20)}; versions 1.0 to 2.0 are read. Upgrade it, or export it again.`);
  const templates = recordOf(rest['geometry-templates']);
  const looks = recordOf(appearance);
  return {
    objects: Object.entries(CityObjects).filter((o): o is [string, CityObject] => isRecord(o[1])),
    vertices: placesOf(vertices, recordOf(transform)),
    templates: listOf(templates.templates) as CityGeometry[],
    templateVertices: listOf(templates['vertices-templates']) as number[][],
    materials: listOf(looks.materials) as CityMaterial[],
    themes: { material: looks['default-theme-material'] as string | undefined },
    reference: typeof recordOf(metadata).referenceSystem === 'string' ? (recordOf(metadata).referenceSystem as string) : null,
  };
}

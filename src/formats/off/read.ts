/**
 * Reads OFF, the text form: polygons with colours of vertices or faces, whose format states neither unit nor up axis (OFF as its
 * first program's manual has it; from memory).
 */
import { fileStem } from '../../core/model/fileExtensions.js';
import { BufferGeometry, Float32BufferAttribute } from 'three';
import type { Model } from '../../core/model/model.js';
import { toLinear, type Rgb } from '../../core/units/colour.js';
import { METRES } from '../../core/units/length.js';
import { ModelError, type ReadOptions, type SourceFile, textOf } from '../format.js';
import { ModelBuilder, toMetres } from '../modelBuilder.js';
import { droppedWarning } from '../degenerate.js';
import { meshOf } from '../normals.js';

/** Numbers of a normal, which comes before the colour. */
const NORMAL = 3;

/** A colour as written: 0 to 1, or 0 to 255 where it is whole numbers; null where there is none. */
function colourOf(said: readonly string[]): Rgb | null {
  if (said.length < 3) return null;
  const numbers = said.slice(0, 3).map(Number);
  const whole = said.slice(0, 3).every((v) => /^\d+$/.test(v));
  return numbers.some((v) => !(v >= 0)) ? null : (numbers.map((v) => toLinear(Math.min(1, whole ? v / 255 : v))) as Rgb);
}

/** Reads a model. @throws where the file is cut short or of a kind that is not read. */
export function read(file: SourceFile, { unit, up }: ReadOptions): Model {
  const fail = (what: string): never => {
    throw new ModelError(`"${file.name}" ${what}. Export or copy it again.`);
  };
  const lines = textOf(file.bytes)
    .split(/\r?\n/)
    .map((line) => line.replace(/#.*$/, '').trim())
    .filter((line) => line !== '');
  const head = /^((?:ST)?)(C?)(N?)(4?)(n?)OFF\b\s*(.*)$/.exec(lines[0] ?? '');
  if (!head) return fail('does not begin as OFF does');
  const [, st, c, n, four, dimension, rest] = head;
  if (four || dimension || rest === 'BINARY')
    throw new ModelError(`"${file.name}" is OFF of four dimensions or in binary, which is not read; export it as plain OFF, or as PLY.`);
  const body = rest ? [rest, ...lines.slice(1)] : lines.slice(1);
  const words = (i: number): string[] => body[i]?.split(/\s+/) ?? fail('is cut short: it ends before its last face');
  const [vertices = NaN, faces = NaN] = words(0).map(Number);
  if (!(Number.isInteger(vertices) && Number.isInteger(faces) && vertices >= 0 && faces >= 0))
    return fail('does not say how many vertices and faces it has');
  if (body.length < 1 + vertices + faces) return fail('is cut short: it ends before its last face');
  const places: number[] = [];
  const colours: Rgb[] = [];
  for (let i = 0; i < vertices; i++) {
    const said = words(1 + i);
    for (let k = 0; k < 3; k++) places.push(said[k] === undefined ? NaN : Number(said[k]));
    if (c) colours.push(colourOf(said.slice(3 + (n ? NORMAL : 0))) ?? [1, 1, 1]);
  }
  const gather = new ModelBuilder();
  const groups = new Map<string, { colour: Rgb | null; corners: number[] }>();
  for (let f = 0; f < faces; f++) {
    const said = words(1 + vertices + f);
    const count = Number(said[0]);
    const corners = said.slice(1, 1 + count).map(Number);
    if (!(count >= 1) || corners.length !== count || corners.some((v) => !(v >= 0 && v < vertices)))
      return fail(`has a face (number ${f + 1}) whose vertices are not there`);
    const colour = colourOf(said.slice(1 + count));
    const key = colour?.join() ?? '';
    const group = groups.get(key) ?? { colour, corners: [] };
    groups.set(key, group);
    for (let k = 2; k < count; k++) group.corners.push(corners[0]!, corners[k - 1]!, corners[k]!);
  }
  const part = gather.part(fileStem(file.name));
  let dropped = 0;
  for (const { colour, corners } of groups.values()) {
    if (corners.length === 0) continue;
    const geometry = new BufferGeometry().setAttribute(
      'position',
      new Float32BufferAttribute(
        corners.flatMap((v) => places.slice(3 * v, 3 * v + 3)),
        3,
      ),
    );
    if (c)
      geometry.setAttribute(
        'color',
        new Float32BufferAttribute(
          corners.flatMap((v) => colours[v]!),
          3,
        ),
      );
    const made = meshOf(geometry, { creased: true });
    dropped += made.dropped;
    const name = colour ? `Colour ${groups.size > 1 ? [...groups.values()].findIndex((g) => g.colour === colour) + 1 : ''}`.trim() : 'Plain grey';
    gather.parts[part]!.primitives.push({
      mesh: gather.mesh(toMetres(made.mesh, METRES[unit], up)),
      material: gather.material(name, () => ({ name, ...(colour && { base: colour }) })),
    });
  }
  if (dropped > 0) gather.warnings.add(droppedWarning(dropped));
  if (st) gather.warnings.add('Places on a texture are left out: the format names no texture.');
  return gather.model(file.name);
}

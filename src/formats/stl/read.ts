/** Reads STL, ASCII and binary, through three's loader. The format states neither unit nor up axis; normals are made by crease angle. */
import { fileStem } from '../../core/model/fileExtensions.js';
import { BufferAttribute, BufferGeometry } from 'three';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import type { Model } from '../../core/model/model.js';
import { METRES } from '../../core/units/length.js';
import { ModelError, type ReadOptions, type SourceFile } from '../format.js';
import { ModelBuilder, toMetres } from '../modelBuilder.js';
import { droppedWarning } from '../degenerate.js';
import { meshOf } from '../normals.js';
import { binaryCount, FACET, HEAD } from './layout.js';

/** A facet of text with other than three corners is no triangle: the loader would guess. */
function checkFacets(name: string, text: string): void {
  let facet = 0;
  for (const [said] of text.matchAll(/\bfacet\b[^]*?\bendfacet\b/gi)) {
    facet++;
    const corners = said.match(/\bvertex\b/gi)?.length ?? 0;
    if (corners !== 3)
      throw new ModelError(`"${name}": facet ${facet} has ${corners} vertices, and one of STL has three. Export it again, as triangles.`);
  }
}

function check(file: SourceFile): void {
  const { name, bytes } = file;
  const count = binaryCount(file);
  if (count === null) {
    const end = new TextDecoder().decode(bytes.subarray(-400));
    if (!/endsolid/i.test(end)) throw new ModelError(`"${name}" is cut short: its last solid does not end. Export or copy it again.`);
    checkFacets(name, new TextDecoder('latin1').decode(bytes));
  } else if (bytes.length < HEAD + FACET * count) {
    throw new ModelError(
      `"${name}" is cut short: it should hold ${count} triangles and holds ${Math.max(0, Math.floor((bytes.length - HEAD) / FACET))}. Export or copy it again.`,
    );
  }
}

/** Reads a model. @throws where the file is cut off. */
export async function read(file: SourceFile, _companions: SourceFile[], options: ReadOptions): Promise<Model> {
  check(file);
  const gather = new ModelBuilder();
  // Binary with bytes after the last triangle is read without them.
  const count = binaryCount(file);
  const bytes = count === null ? file.bytes : file.bytes.subarray(0, HEAD + FACET * count);
  const whole = new STLLoader().parse(bytes.slice().buffer);
  const names = (whole.userData as { groupNames?: string[] }).groupNames ?? [];
  const groups = whole.groups.length > 1 ? whole.groups : [{ start: 0, count: whole.getAttribute('position').count }];
  const material = gather.material('plain', () => ({ name: 'Plain grey' }));
  let dropped = 0;
  groups.forEach(({ start, count: corners }, i) => {
    if (corners === 0) return;
    const piece = new BufferGeometry();
    for (const name of ['position', 'color']) {
      const all = whole.getAttribute(name);
      if (all) piece.setAttribute(name, new BufferAttribute((all.array as Float32Array).slice(start * 3, (start + corners) * 3), 3));
    }
    const made = meshOf(piece, { creased: true });
    dropped += made.dropped;
    gather.part(names[i] ?? (groups.length > 1 ? `Solid ${i + 1}` : fileStem(file.name)), -1, {
      primitives: [{ mesh: gather.mesh(toMetres(made.mesh, METRES[options.unit], options.up)), material }],
    });
  });
  if (dropped > 0) gather.warnings.add(droppedWarning(dropped));
  return gather.model(file.name);
}

/** Reads PLY, ASCII and binary, with normals, colours of vertices or faces, and a picture, through three's loader. The format states neither unit nor up axis. */
import { fileStem } from '../../core/model/fileExtensions.js';
import type { BufferGeometry } from 'three';
import { PLYLoader } from 'three/examples/jsm/loaders/PLYLoader.js';
import { IDENTITY_UV, type Material, type Mesh, type Model } from '../../core/model/model.js';
import { METRES } from '../../core/units/length.js';
import { DamageError, ModelError, type ReadOptions, type SourceFile } from '../format.js';
import { fileOf, loadCompanionTextures, missingTexture } from '../image/companionTextures.js';
import { ModelBuilder, toMetres } from '../modelBuilder.js';
import { droppedWarning } from '../degenerate.js';
import { meshOf } from '../normals.js';
import type { PointCloud } from '../points/cloud.js';
import { cloudModel } from '../points/model.js';

const HEAD_BYTES = 65_536;

interface Header {
  faces: number;
  vertices: number;
  elements: number;
  binary: boolean;
  /** Its own bytes. */
  length: number;
  /** The picture that a comment names, as writers have agreed on. */
  picture: string | undefined;
}

/** What the header says there should be; throws where it is not whole. */
function header({ name, bytes }: SourceFile): Header {
  const text = new TextDecoder('latin1').decode(bytes.subarray(0, HEAD_BYTES));
  const end = /end_header\r?\n?/.exec(text);
  if (!end) throw new ModelError(`"${name}" is cut short: its header does not end. Export or copy it again.`);
  const number = (what: string): number => Number(new RegExp(`element\\s+${what}\\s+(\\d+)`).exec(text)?.[1] ?? 0);
  const elements = [...text.slice(0, end.index).matchAll(/^element\s+\S+\s+(\d+)/gm)].reduce((sum, m) => sum + Number(m[1]), 0);
  return {
    faces: number('face'),
    vertices: number('vertex'),
    elements,
    binary: !/format\s+ascii/.test(text),
    length: end.index + end[0].length,
    picture: /^comment\s+TextureFile\s+(.+?)\s*$/m.exec(text)?.[1],
  };
}

/** Lines with anything on them. */
function countLines(bytes: Uint8Array): number {
  let lines = 0;
  let written = false;
  for (const byte of bytes) {
    if (byte > 32) written = true;
    else if (byte === 10 || byte === 13) {
      if (written) lines++;
      written = false;
    }
  }
  return lines + (written ? 1 : 0);
}

/** The picture of the whole mesh, where one is named and was given. */
async function textureOf(
  named: string | undefined,
  mesh: Mesh,
  companions: SourceFile[],
  gather: ModelBuilder,
): Promise<Material['textures'] | undefined> {
  if (named === undefined) return undefined;
  if (!mesh.uvs) {
    gather.warnings.add(`The file names the texture "${named}", but has no texture coordinates; it is rendered without it.`);
    return undefined;
  }
  const [texture] = await loadCompanionTextures([named], companions, gather);
  if (typeof texture === 'number') return { base: { texture, matrix: [...IDENTITY_UV], mapping: 'first' } };
  if (!companions.some((f) => fileOf(f.name) === fileOf(named))) gather.warnings.add(missingTexture(named, 'Plain grey', 'PLY'));
  return undefined;
}

/** A PLY without faces, as scanners write it. */
function readCloud({ name }: SourceFile, geometry: BufferGeometry, vertices: number, cut: string, { unit, up }: ReadOptions): Model {
  const list = (name: string): Float32Array | undefined => {
    const attribute = geometry.getAttribute(name);
    return attribute && Float32Array.from({ length: 3 * attribute.count }, (_, i) => attribute.getComponent(Math.floor(i / 3), i % 3));
  };
  const positions = list('position');
  if (vertices === 0 || !positions) throw new ModelError(`"${name}" has neither faces nor points; export it again.`);
  if (positions.length < 3 * vertices) throw new ModelError(cut);
  if (!positions.every(Number.isFinite)) throw new DamageError('it has a coordinate that is not a number');
  const [colours, normals] = [list('color'), list('normal')];
  const { positions: placed, normals: turned } = toMetres({ positions, indices: new Uint32Array(), ...(normals && { normals }) }, METRES[unit], up);
  const cloud: PointCloud = { positions: placed, ...(colours && { colours }), ...(turned && { normals: turned }) };
  return cloudModel(new ModelBuilder(), name, cloud, () => '');
}

/** Reads a model. @throws where the file is cut off or its header cannot be read. */
export async function read(file: SourceFile, companions: SourceFile[], options: ReadOptions): Promise<Model> {
  const { faces, vertices, elements, binary, length, picture } = header(file);
  const { name, bytes } = file;
  const cut = `"${name}" is cut short: it should hold ${vertices} vertices and ${faces} faces. Export or copy it again.`;
  // A vertex takes three numbers, a face a count and three more, whatever their size.
  if (bytes.length - length < (binary ? 3 * vertices + 4 * faces : 6 * vertices + 8 * faces)) throw new ModelError(cut);
  // Text has a line for each element; the loader takes what there is.
  if (!binary && countLines(bytes.subarray(length)) < elements) throw new ModelError(cut);
  let geometry;
  try {
    geometry = new PLYLoader().parse(bytes.slice().buffer);
  } catch (e) {
    throw e instanceof RangeError ? new ModelError(cut) : e;
  }
  if (faces === 0) return readCloud(file, geometry, vertices, cut, options);
  const index = geometry.getIndex();
  const positions = geometry.getAttribute('position');
  // Where faces have colours or texture coordinates of their own, each has its own corners.
  if (index ? positions.count < vertices : positions.count < 3 * faces) throw new ModelError(cut);
  for (let i = 0; index && i < index.count; i++)
    if (!(index.getX(i) < positions.count))
      throw new ModelError(
        `"${name}": a face refers to vertex ${index.getX(i)}, but there are ${positions.count}. The file is damaged; export it again.`,
      );
  const gather = new ModelBuilder();
  const { mesh, dropped } = meshOf(geometry);
  if (dropped > 0) gather.warnings.add(droppedWarning(dropped));
  const textures = await textureOf(picture, mesh, companions, gather);
  const material = gather.material('plain', () =>
    textures
      ? { name: 'Texture', base: [1, 1, 1], textures }
      : mesh.colours
        ? { name: 'Colours of the vertices', base: [1, 1, 1] }
        : { name: 'Plain grey' },
  );
  gather.part(fileStem(name), -1, { primitives: [{ mesh: gather.mesh(toMetres(mesh, METRES[options.unit], options.up)), material }] });
  return gather.model(name);
}

/** Reading what the command line names; errors say file, place and remedy. */
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { TEXTURE_EXTENSIONS } from '../core/model/fileExtensions.js';
import { parseSet, type SetFile, environmentFiles } from '../core/plan/set.js';
import { decodedUri, extensionOf, MAX_UPLOAD_BYTES, type SourceFile } from '../formats/format.js';
import type { Texture } from '../core/model/model.js';
import { decodeTexture } from '../formats/image/texture.js';
import { InputError } from './command.js';
import { readEnvironmentMap, type EnvironmentImage } from '../formats/environment/read.js';

function readFile(file: string, what: string): Uint8Array {
  if (!existsSync(file)) throw new InputError(`${file}: there is no such file; give the path of ${what}.`);
  const stat = statSync(file);
  if (!stat.isFile()) throw new InputError(`${file} is no file; give the path of ${what}.`);
  if (stat.size > MAX_UPLOAD_BYTES)
    throw new InputError(`${file} has ${Math.ceil(stat.size / 2 ** 20)} MB; ${MAX_UPLOAD_BYTES / 2 ** 20} MB is the most.`);
  return new Uint8Array(readFileSync(file));
}

/** An environment image with its content hash and extension, as stages name it. */
export interface EnvironmentFile extends EnvironmentImage {
  /** As the set names it. */
  file: string;
  id: string;
}

/** The environment images that the set's stages name, from beside the set file. */
export async function readEnvironments(set: SetFile, setFile: string): Promise<EnvironmentFile[]> {
  return Promise.all(environmentFiles(set).map((name) => readOne(name, setFile)));
}

async function readOne(name: string, setFile: string): Promise<EnvironmentFile> {
  const bytes = readFile(path.join(path.dirname(setFile), name), `the environment image that ${setFile} names as stage.environment.file`);
  try {
    return { file: name, id: `${createHash('sha256').update(bytes).digest('hex')}.${extensionOf(name)}`, ...(await readEnvironmentMap(name, bytes)) };
  } catch (e) {
    throw new InputError((e as Error).message);
  }
}

/** Reads textures of custom materials from beside the set file. */
export function textureReader(setFile: string): (file: string) => Promise<Pick<Texture, 'width' | 'height' | 'pixels'>> {
  return async (file) =>
    decodeTexture(file, readFile(path.join(path.dirname(setFile), path.basename(file)), `the texture that ${setFile} names on a material`));
}

/** Reads a set file of any version. @throws where it cannot be read, with the places at fault. */
export function readSet(file: string): SetFile {
  const text = new TextDecoder().decode(readFile(file, 'a set file'));
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (e) {
    throw new InputError(`${file}: this is no JSON (${(e as Error).message}); export the set again or correct it.`);
  }
  try {
    return parseSet(json);
  } catch (e) {
    throw new InputError(
      (e as Error).message
        .split('\n')
        .map((line) => `${file}: ${line}`)
        .join('\n'),
    );
  }
}

/** Buffers and pictures that a glTF names, from its folder and below; what is at fault is said by the reader. */
function besideGltf(file: string, bytes: Uint8Array): SourceFile[] {
  let named: { uri?: unknown }[];
  try {
    const json = JSON.parse(new TextDecoder().decode(bytes)) as { buffers?: { uri?: unknown }[]; images?: { uri?: unknown }[] };
    named = [...(json.buffers ?? []), ...(json.images ?? [])];
  } catch {
    return [];
  }
  const folder = path.resolve(path.dirname(file));
  return named.flatMap(({ uri }) => {
    if (typeof uri !== 'string' || /^[a-z]+:/i.test(uri)) return [];
    const at = path.resolve(folder, decodedUri(uri));
    return at.startsWith(folder + path.sep) && existsSync(at) ? [{ name: path.basename(at), bytes: readFile(at, 'a file of the glTF') }] : [];
  });
}

/** Bytes at the start of a PLY that its header is within. */
const PLY_HEADER = 65_536;

/** Endings of textures, one or another. */
const TEXTURES = TEXTURE_EXTENSIONS.join('|');

/** Names are told apart in the bytes of binary files too, whatever else they are. */
const wordsOf = (...contents: Uint8Array[]): string => contents.map((b) => new TextDecoder('latin1').decode(b).toLowerCase()).join('\n');

/** Paths of files of a kind in a folder and so many layers of folders in it. */
function filesBelow(folder: string, kind: RegExp, depth: number): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const own = path.join(folder, entry.name);
    if (entry.isDirectory()) return depth > 0 ? filesBelow(own, kind, depth - 1) : [];
    return kind.test(entry.name) ? [own] : [];
  });
}

/** Layers and pictures below a folder that a layer has the names of, or one of those layers. */
function layersNamed(folder: string, main: SourceFile): SourceFile[] {
  const found: SourceFile[] = [];
  let left = filesBelow(folder, new RegExp(`\\.(usd[ac]?|${TEXTURES})$`, 'i'), 3);
  // What a layer names may name further ones.
  for (let words = wordsOf(main.bytes); words !== '';) {
    const named = left.filter((at) => path.basename(at) !== main.name && words.includes(path.basename(at).toLowerCase()));
    left = left.filter((at) => !named.includes(at));
    const files = named.map((at) => ({ name: path.basename(at), bytes: readFile(at, 'its layers') }));
    found.push(...files);
    words = wordsOf(...files.filter((f) => extensionOf(f.name).startsWith('usd')).map((f) => f.bytes));
  }
  return found;
}

/** Pictures in a folder and the folders in it, those that the contents have the names of. */
function picturesNamed(folder: string, contents: Uint8Array[]): SourceFile[] {
  const there = filesBelow(folder, new RegExp(`\\.(${TEXTURES})$`, 'i'), 1);
  // A large file is gone through only where there is something to find.
  const words = there.length > 0 ? wordsOf(...contents) : '';
  const named = there.filter((at) => words.includes(path.basename(at).toLowerCase()));
  return named.map((at) => ({ name: path.basename(at), bytes: readFile(at, 'its textures') }));
}

/** The model and the files beside it that it may name: of a glTF, of an OBJ with its materials, layers and pictures of USD, and pictures of Collada, FBX, PLY and VRML. */
export function readSources(file: string): SourceFile[] {
  const main: SourceFile = { name: path.basename(file), bytes: readFile(file, 'a model') };
  const folder = path.dirname(path.resolve(file));
  switch (extensionOf(file)) {
    case 'gltf':
      return [main, ...besideGltf(file, main.bytes)];
    case 'ply':
      return [main, ...picturesNamed(folder, [main.bytes.subarray(0, PLY_HEADER)])];
    case 'usd':
    case 'usda':
    case 'usdc':
      return [main, ...layersNamed(folder, main)];
    case 'dae':
    case 'fbx':
    case 'wrl':
    case 'vrml':
      return [main, ...picturesNamed(folder, [main.bytes])];
    case 'obj': {
      const words = wordsOf(main.bytes);
      const libraries = readdirSync(folder).filter((f) => /\.mtl$/i.test(f) && words.includes(f.toLowerCase()));
      const companions = libraries.map((f) => ({ name: f, bytes: readFile(path.join(folder, f), 'its materials') }));
      return [
        main,
        ...companions,
        ...picturesNamed(
          folder,
          companions.map((c) => c.bytes),
        ),
      ];
    }
    default:
      return [main];
  }
}

/** Reads glTF 2.0 as text with its buffers and pictures beside it: all of them must be given, nothing is fetched. */
import type { GLTF, JSONDocument } from '@gltf-transform/core';
import type { Model } from '../../core/model/model.js';
import { decodedUri, ModelError, type SourceFile, textOf } from '../format.js';
import { makeIO, rejectUnsupportedExtensions } from './io.js';
import { readDocument } from './read.js';

/** The name of a file without its folders, as a person gives it. */
const plainName = (name: string): string => name.split(/[\\/]/).pop()!.toLowerCase();

function parse({ name, bytes }: SourceFile): GLTF.IGLTF {
  let json: unknown;
  try {
    json = JSON.parse(textOf(bytes));
  } catch {
    throw new ModelError(`"${name}" is damaged or cut short: it is not JSON. Export or copy it again.`);
  }
  const version = (json as { asset?: { version?: unknown } } | null)?.asset?.version;
  if (typeof version !== 'string') throw new ModelError(`"${name}" is JSON, but not glTF: it does not state its version. Export it as glTF 2.0.`);
  if (!version.startsWith('2')) throw new ModelError(`"${name}" is glTF ${version}; only version 2 can be read. Export it as glTF 2.0.`);
  rejectUnsupportedExtensions(name, (json as GLTF.IGLTF).extensionsRequired);
  return json as GLTF.IGLTF;
}

/** What the file refers to, out of the files that were given with it. */
function resources(json: GLTF.IGLTF, name: string, companions: SourceFile[]): JSONDocument['resources'] {
  const given = new Map(companions.map((f) => [plainName(f.name), f]));
  const out: JSONDocument['resources'] = {};
  const buffers = json.buffers ?? [];
  for (const { uri, byteLength } of [...buffers, ...(json.images ?? []).map((image) => ({ uri: image.uri, byteLength: 0 }))]) {
    if (uri === undefined || uri.startsWith('data:')) continue;
    // Web addresses and folders are not followed: a file of the name must have come along.
    const file = given.get(plainName(decodedUri(uri)));
    if (!file)
      throw new ModelError(
        `"${name}" needs the file "${uri.slice(0, 120)}", which was not given. Drop it together with the glTF, or export one GLB.`,
      );
    if (byteLength > file.bytes.length)
      throw new ModelError(`"${file.name}" is cut short: "${name}" needs ${byteLength} bytes of it, and it has ${file.bytes.length}. Copy it again.`);
    out[uri] = new Uint8Array(file.bytes);
  }
  if (buffers.some((b) => b.uri === undefined))
    throw new ModelError(`"${name}" lacks a buffer: its geometry is in no file. Export it again, as one GLB with everything embedded.`);
  return out;
}

/** Reads a model with the files that were given beside it. @throws where one of these is missing. */
export async function read(file: SourceFile, companions: SourceFile[]): Promise<Model> {
  const json = parse(file);
  const io = await makeIO(json.extensionsUsed);
  return readDocument(await io.readJSON({ json, resources: resources(json, file.name, companions) }), file.name, json.extensionsUsed);
}

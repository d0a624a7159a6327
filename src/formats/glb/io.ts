import { type Extension, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { ModelError } from '../format.js';

let ready: Promise<WebIO> | null = null;

const READ = new Set(ALL_EXTENSIONS.map((e) => e.EXTENSION_NAME));

/** Throws where the file says that it cannot be understood without an extension that is not read here. */
export function rejectUnsupportedExtensions(name: string, required: unknown): void {
  const lost = (Array.isArray(required) ? required : []).filter((e): e is string => typeof e === 'string' && !READ.has(e));
  if (lost.length > 0)
    throw new ModelError(`"${name}" needs the glTF extension ${lost.map((e) => e.slice(0, 60)).join(', ')}, which is not read. Export it without.`);
}

/** The reader and writer of glTF, which never fetches anything; made once, as its decoders take a while to start. */
export function makeIO(): Promise<WebIO> {
  ready ??= make();
  return ready;
}

async function make(): Promise<WebIO> {
  await MeshoptDecoder.ready;
  await MeshoptEncoder.ready;
  return new WebIO().registerExtensions(ALL_EXTENSIONS as (typeof Extension)[]).registerDependencies({
    'draco3d.decoder': await draco3d.createDecoderModule(),
    'meshopt.decoder': MeshoptDecoder,
    'meshopt.encoder': MeshoptEncoder,
  });
}

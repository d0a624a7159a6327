import { type Extension, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';

let ready: Promise<WebIO> | null = null;

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

import { type Extension, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { ModelError } from '../format.js';

let io: WebIO | null = null;

const READ = new Set(ALL_EXTENSIONS.map((e) => e.EXTENSION_NAME));

/** Throws where the file says that it cannot be understood without an extension that is not read here. */
export function rejectUnsupportedExtensions(name: string, required: unknown): void {
  const lost = (Array.isArray(required) ? required : []).filter((e): e is string => typeof e === 'string' && !READ.has(e));
  if (lost.length > 0)
    throw new ModelError(`"${name}" needs the glTF extension ${lost.map((e) => e.slice(0, 60)).join(', ')}, which is not read. Export it without.`);
}

/** What unpacks the data of an extension, with the name that the reader knows it by; read when a file first needs it. */
const UNPACKERS: Record<string, () => Promise<Record<string, unknown>>> = {
  KHR_draco_mesh_compression: async () => ({ 'draco3d.decoder': await (await import('draco3dgltf')).default.createDecoderModule() }),
  EXT_meshopt_compression: async () => {
    const { MeshoptDecoder, MeshoptEncoder } = await import('meshoptimizer');
    await Promise.all([MeshoptDecoder.ready, MeshoptEncoder.ready]);
    return { 'meshopt.decoder': MeshoptDecoder, 'meshopt.encoder': MeshoptEncoder };
  },
};
const started = new Map<string, Promise<Record<string, unknown>>>();

/**
 * The reader and writer of glTF, which never fetches anything; one a process.
 * @param used names of the extensions that the file uses: only what unpacks these is started, which takes a while.
 */
export async function makeIO(used?: unknown): Promise<WebIO> {
  io ??= new WebIO().registerExtensions(ALL_EXTENSIONS as (typeof Extension)[]);
  for (const [name, start] of Object.entries(UNPACKERS)) {
    if (!Array.isArray(used) || !used.includes(name)) continue;
    if (!started.has(name)) started.set(name, start());
    io.registerDependencies(await started.get(name)!);
  }
  return io;
}

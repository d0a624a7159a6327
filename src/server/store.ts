/** Where everything lies in the data folder. */
import { access, mkdir, readdir, readFile, rm } from 'node:fs/promises';
import path from 'node:path';
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { type CompiledScene, decodeScene } from '../engine/compile.js';
import { loadKernelModule } from '../engine/node/assets.js';
import { PART_SUFFIX, writeWhole } from '../engine/node/files.js';
import { type Prepared } from '../engine/prepare.js';
import { type SceneSource } from '../engine/source.js';
import { extensionOf, type SourceFile } from '../formats/format.js';
import { decodeTexture } from '../formats/picture/texture.js';
import { readSurround } from '../formats/surround/read.js';
import { ServerError } from './errors.js';

export class Store {
  constructor(readonly root: string) {}

  async prepare(): Promise<void> {
    for (const folder of ['films', 'models', 'pictures', 'small', 'surrounds', 'textures', 'uploads'])
      await mkdir(path.join(this.root, folder), { recursive: true });
    // What was being uploaded or written when the power went is of no use.
    for (const name of await readdir(path.join(this.root, 'uploads')))
      await rm(path.join(this.root, 'uploads', name), { recursive: true, force: true });
    for (const folder of ['films', 'models', 'pictures', 'small', 'surrounds', 'textures']) {
      for (const name of await readdir(path.join(this.root, folder), { recursive: true })) {
        if (name.endsWith(PART_SUFFIX)) await rm(path.join(this.root, folder, name), { force: true });
      }
    }
  }

  uploads(): string {
    return path.join(this.root, 'uploads');
  }

  /** The canonical GLB of a model. */
  glb(hash: string): string {
    return path.join(this.root, 'models', `${hash}.glb`);
  }

  /** The lighter form of a heavy model, for the quick viewport. */
  viewport(hash: string): string {
    return path.join(this.root, 'models', `${hash}.viewport.glb`);
  }

  scene(hash: string): string {
    return path.join(this.root, 'models', `${hash}.scene`);
  }

  small(identity: string, width: number): string {
    return path.join(this.root, 'small', identity.slice(0, 2), `${identity}-${width}.webp`);
  }

  /** What was summed up of a frame whose sampling was ended early. */
  film(batch: number, position: number): string {
    return path.join(this.root, 'films', `${batch}-${position}.film`);
  }

  /** A path below a batch's folder. Throws where the name leads out of it. */
  picture(folder: string, name: string): string {
    const base = path.join(this.root, folder);
    const file = path.resolve(base, name);
    if (!file.startsWith(base + path.sep)) throw new Error(`"${name}" leads out of the batch's folder.`);
    return file;
  }

  async keepModel(prepared: Prepared): Promise<void> {
    const { hash } = prepared.summary;
    await Promise.all([
      writeWhole(this.glb(hash), prepared.glb),
      writeWhole(this.scene(hash), prepared.scene),
      ...(prepared.viewport ? [writeWhole(this.viewport(hash), prepared.viewport)] : []),
    ]);
  }

  /** Removes model files that no revision refers to: of an import that was cut off. */
  async sweepModels(known: Set<string>): Promise<void> {
    for (const name of await readdir(path.join(this.root, 'models'))) {
      if (!known.has(name.split('.')[0]!)) await rm(path.join(this.root, 'models', name), { force: true });
    }
  }

  /** Throws with the remedy where the compiled scene is not there or of another version. */
  async loadScene(hash: string): Promise<CompiledScene> {
    const scene = decodeScene(new Uint8Array(await readFile(this.scene(hash))));
    if (!scene) throw new Error('The compiled model is of another version of Cold Easel; import the model again.');
    return scene;
  }

  /** A picture of light, by content hash and ending. Throws where the name is no such. */
  surround(file: string): string {
    if (!/^[0-9a-f]{64}\.(hdr|exr)$/.test(file))
      throw new ServerError('not-found', `The environment image "${file}" is not here; import it in the Stage step.`);
    return path.join(this.root, 'surrounds', file);
  }

  async hasSurround(file: string): Promise<boolean> {
    try {
      return await this.exists(this.surround(file));
    } catch {
      return false;
    }
  }

  /** Keeps a picture of light; returns the name that a stage gives it. Throws ModelError where it cannot be read. */
  async keepSurround({ name, bytes }: SourceFile): Promise<{ file: string; width: number; height: number }> {
    const { width, height } = readSurround(name, bytes);
    const file = `${bytesToHex(sha256(bytes))}.${extensionOf(name)}`;
    await writeWhole(this.surround(file), bytes);
    return { file, width, height };
  }

  /** A picture on a finish, by content hash and ending. Throws where the name is no such. */
  texture(file: string): string {
    if (!/^[0-9a-f]{64}\.(png|jpe?g|webp)$/.test(file))
      throw new ServerError('not-found', `The texture "${file}" is not here; import it in the Model step.`);
    return path.join(this.root, 'textures', file);
  }

  async hasTexture(file: string): Promise<boolean> {
    try {
      return await this.exists(this.texture(file));
    } catch {
      return false;
    }
  }

  /** Keeps a picture for finishes; returns the name that they give it. Throws ModelError where it cannot be read. */
  async keepTexture({ name, bytes }: SourceFile): Promise<{ file: string; width: number; height: number }> {
    const { width, height } = await decodeTexture(name, bytes);
    const file = `${bytesToHex(sha256(bytes))}.${extensionOf(name)}`;
    await writeWhole(this.texture(file), bytes);
    return { file, width, height };
  }

  /** Where a scene, and the pictures that may light it, come from. */
  source(hash: string): SceneSource {
    return {
      hash,
      scene: () => this.loadScene(hash),
      module: loadKernelModule,
      texture: async (file) => {
        const bytes = await readFile(this.texture(file)).catch(() => {
          throw new Error(`The picture "${file}" is not here; bring it in with its finish on the Model step.`);
        });
        return decodeTexture(file, new Uint8Array(bytes));
      },
      picture: async (file) => {
        const bytes = await readFile(this.surround(file)).catch(() => {
          throw new Error(`The surround "${file}" is not here; bring it in on the Stage step.`);
        });
        return readSurround(file, new Uint8Array(bytes));
      },
    };
  }

  async exists(file: string): Promise<boolean> {
    return access(file).then(
      () => true,
      () => false,
    );
  }
}

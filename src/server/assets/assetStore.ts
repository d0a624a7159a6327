/** Where everything lies in the data folder. */
import { access, mkdir, readdir, readFile, rm } from 'node:fs/promises';
import path from 'node:path';
import { ENVIRONMENT_NAME, TEXTURE_NAME } from '../../core/image/fileTypes.js';
import { type CompiledScene, decodeScene } from '../../engine/scene/compile.js';
import { loadKernelModule } from '../../engine/node/assets.js';
import { writeFileAtomic, commitFile } from '../../engine/node/files.js';
import type { ImageReader } from '../../engine/node/imageReader.js';
import { importFiles } from '../../engine/node/importModel.js';
import { IMPORT_FILES } from '../../engine/node/importTask.js';
import { decodeTexels } from '../../engine/node/texels.js';
import type { AssetProvider } from '../../engine/scene/resolveScene.js';
import { extensionOf } from '../../formats/format.js';
import { decodeTexture, textureSize } from '../../formats/image/texture.js';
import type { EnvironmentImage } from '../../formats/environment/read.js';
import { FOLDERS, prepareFolders } from './folders.js';
import { soundLength } from '../../engine/node/ffmpeg.js';
import { SOUND_NAME } from '../../core/movie/sound.js';
import { hashFile } from '../../engine/node/hashFile.js';
import type { Trash } from './trash.js';
import { ServerError } from '../errors.js';

/** Folder of the data folder in which each batch has one of its own. */
export const PICTURES = 'pictures';

/** An image that was kept: as stages and materials name it, and its size in pixels. */
export interface StoredImage {
  file: string;
  width: number;
  height: number;
}

/** Files of the data folder by content hash: models, textures, renders, movies. */
export class AssetStore {
  readonly folders: readonly string[] = FOLDERS;
  /** Scenes that are being compiled anew, by hash. */
  private readonly rebuilding = new Map<string, Promise<CompiledScene>>();

  /** @param originalsBytes for files kept as they were uploaded. */
  constructor(
    readonly root: string,
    readonly trash: Trash,
    private readonly images: ImageReader,
    readonly originalsBytes: number,
    private readonly log: (line: string) => void = () => {},
  ) {}

  async prepare(): Promise<void> {
    await prepareFolders(this.root);
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

  /** A file as it was uploaded, by its content. */
  original(sha256: string): string {
    return path.join(this.root, 'originals', sha256);
  }

  thumbnail(identity: string, width: number): string {
    return path.join(this.root, 'thumbnails', identity.slice(0, 2), `${identity}-${width}.webp`);
  }

  /** What was summed up of a frame whose sampling was ended early. */
  checkpoint(batch: number, position: number): string {
    return path.join(this.root, 'checkpoints', `${batch}-${position}.film`);
  }

  /** The film of a frame that is rendered in strips, meanwhile. */
  strips(batch: number, position: number): string {
    return path.join(this.root, 'checkpoints', `${batch}-${position}.strips`);
  }

  /** Removes what is kept of a batch's unfinished frames. */
  async removeUnfinished(batch: number): Promise<void> {
    const folder = path.join(this.root, 'checkpoints');
    for (const name of await readdir(folder)) if (name.startsWith(`${batch}-`)) await rm(path.join(folder, name), { recursive: true, force: true });
  }

  masters(): string {
    return path.join(this.root, 'masters');
  }

  /** The folder of a package. */
  package(id: number): string {
    return path.join(this.root, 'packages', String(id));
  }

  /** The linear light of what was traced under a key, see masterKeyOf. */
  master(key: string): string {
    return path.join(this.masters(), key.slice(0, 2), `${key}.exr`);
  }

  /** A path below a batch's folder. Throws where the name leads out of it. */
  picture(folder: string, name: string): string {
    const base = path.join(this.root, folder);
    const file = path.resolve(base, name);
    if (!file.startsWith(base + path.sep)) throw new ServerError('invalid-input', `"${name}" leads out of the batch's folder.`);
    return file;
  }

  /** Takes over what an import wrote into a folder of this store. */
  async saveModel(folder: string, hash: string): Promise<void> {
    await commitFile(path.join(folder, IMPORT_FILES.glb), this.glb(hash));
    await commitFile(path.join(folder, IMPORT_FILES.scene), this.scene(hash));
    const viewport = path.join(folder, IMPORT_FILES.viewport);
    if (await this.exists(viewport)) await commitFile(viewport, this.viewport(hash));
  }

  readText(file: string): Promise<string> {
    return readFile(file, 'utf8');
  }

  /** The compiled scene; one that is missing or of another version is compiled anew from its GLB. */
  async loadScene(hash: string): Promise<CompiledScene> {
    const bytes = await readFile(this.scene(hash)).catch(() => null);
    const scene = bytes && decodeScene(new Uint8Array(bytes));
    if (scene) return scene;
    const known = this.rebuilding.get(hash);
    if (known) return known;
    const making = this.rebuildScene(hash).finally(() => this.rebuilding.delete(hash));
    this.rebuilding.set(hash, making);
    return making;
  }

  /** Path of the compiled scene, which is made anew where it is missing or of another version. */
  async scenePath(hash: string): Promise<string> {
    await this.loadScene(hash);
    return this.scene(hash);
  }

  private async rebuildScene(hash: string): Promise<CompiledScene> {
    if (!(await this.exists(this.glb(hash))))
      throw new ServerError('not-found', 'The model of this revision is missing from the data folder. Restore a backup, or import its file again.');
    this.log(`the compiled scene of model ${hash.slice(0, 12)} is missing or of another version; it is made anew from its GLB`);
    const folder = path.join(this.uploads(), `scene-${hash}`);
    await mkdir(folder, { recursive: true });
    try {
      const { hash: made } = await importFiles({
        files: [{ name: 'model.glb', path: this.glb(hash) }],
        options: { unit: 'm', up: 'y' },
        out: folder,
      });
      // Another version may compile it otherwise; the frames' identities name the engine's version too.
      if (made !== hash)
        this.log(`the scene of model ${hash.slice(0, 12)} came out as ${made.slice(0, 12)}: the version that compiled it was another`);
      await commitFile(path.join(folder, IMPORT_FILES.scene), this.scene(hash));
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
    return decodeScene(new Uint8Array(await readFile(this.scene(hash))))!;
  }

  /** An environment image, by content hash and ending. Throws where the name is no such. */
  environment(file: string): string {
    if (!ENVIRONMENT_NAME.test(file)) throw new ServerError('not-found', `The environment image "${file}" is not here; import it in the Stage step.`);
    return path.join(this.root, 'environments', file);
  }

  async hasEnvironmentMap(file: string): Promise<boolean> {
    return ENVIRONMENT_NAME.test(file) && this.exists(this.environment(file));
  }

  /** Keeps an environment image; returns the name that a stage gives it. Rejects with ModelError where it cannot be read. */
  async saveEnvironmentMap({ name, path: at }: { name: string; path: string }): Promise<StoredImage> {
    const file = `${await hashFile(at)}.${extensionOf(name)}`;
    const texels = `${at}.texels`;
    const { width, height } = await this.images.read({ kind: 'environment', name, path: at, out: texels });
    await commitFile(texels, this.texelsOf(file));
    await commitFile(at, this.environment(file));
    return { file, width, height };
  }

  private texelsOf(file: string): string {
    return `${this.environment(file)}.texels`;
  }

  /** Path of an environment image's texels, which are decoded anew where they are missing. */
  async environmentTexels(file: string): Promise<string> {
    await this.loadEnvironmentMap(file);
    return this.texelsOf(file);
  }

  /** Texels of an environment image: decoded once, when it was brought, and again only where that was lost. */
  private async loadEnvironmentMap(file: string): Promise<EnvironmentImage> {
    const read = async (): Promise<EnvironmentImage | null> => {
      const bytes = await readFile(this.texelsOf(file)).catch(() => null);
      return bytes && decodeTexels(new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length));
    };
    const known = await read();
    if (known) return known;
    if (!(await this.exists(this.environment(file))))
      throw new ServerError('not-found', `The environment image "${file}" is not here; import it in the Stage step.`);
    await this.images.read({ kind: 'environment', name: file, path: this.environment(file), out: this.texelsOf(file) });
    return (await read())!;
  }

  /** A texture, by content hash and ending. Throws where the name is no such. */
  texture(file: string): string {
    if (!TEXTURE_NAME.test(file)) throw new ServerError('not-found', `The texture "${file}" is not here; import it in the Model step.`);
    return path.join(this.root, 'textures', file);
  }

  async hasTexture(file: string): Promise<boolean> {
    return TEXTURE_NAME.test(file) && this.exists(this.texture(file));
  }

  /** Keeps a texture; returns the name that materials give it. Rejects with ModelError where it cannot be read. */
  async keepTexture({ name, path: at }: { name: string; path: string }): Promise<StoredImage> {
    const { width, height } = await this.images.read({ kind: 'texture', name, path: at });
    const file = `${await hashFile(at)}.${extensionOf(name)}`;
    await commitFile(at, this.texture(file));
    return { file, width, height };
  }

  /** A sound of a movie, by content hash and ending. Throws where the name is no such. */
  sound(file: string): string {
    if (!SOUND_NAME.test(file)) throw new ServerError('not-found', `The sound "${file.slice(0, 80)}" is not here; choose its file again.`);
    return path.join(this.root, 'sounds', file);
  }

  async hasSound(file: string): Promise<boolean> {
    return SOUND_NAME.test(file) && this.exists(this.sound(file));
  }

  /** Keeps a sound; returns the name that movies give it, and its length in seconds. Rejects with ServerError where it cannot be read. */
  async keepSound({ name, path: at }: { name: string; path: string }): Promise<{ file: string; seconds: number }> {
    const ending = extensionOf(name);
    const seconds = await soundLength(at, ending).catch((e: Error) => {
      throw new ServerError('unusable', `${name} cannot be read as sound (${e.message}). Export it as WAV, FLAC or MP3 and choose it again.`);
    });
    const file = `${await hashFile(at)}.${ending}`;
    await commitFile(at, this.sound(file));
    return { file, seconds };
  }

  private async textureBytes(file: string): Promise<Uint8Array> {
    const bytes = await readFile(this.texture(file)).catch(() => {
      throw new ServerError('not-found', `The texture "${file}" is not here; import it in the Model step.`);
    });
    return new Uint8Array(bytes);
  }

  /** Texels of textures together, by what they declare. */
  async texelsIn(files: readonly string[]): Promise<number> {
    let texels = 0;
    for (const file of files) {
      const { width, height } = await textureSize(file, await this.textureBytes(file));
      texels += width * height;
    }
    return texels;
  }

  /** Where a scene, and the images that may light it, come from. */
  source(hash: string): AssetProvider {
    return {
      hash,
      scene: () => this.loadScene(hash),
      module: loadKernelModule,
      texture: async (file) => decodeTexture(file, await this.textureBytes(file)),
      picture: (file) => this.loadEnvironmentMap(file),
    };
  }

  /** Writes a file whole or not at all. */
  write(file: string, bytes: Uint8Array | string): Promise<void> {
    return writeFileAtomic(file, bytes);
  }

  async exists(file: string): Promise<boolean> {
    return access(file).then(
      () => true,
      () => false,
    );
  }
}

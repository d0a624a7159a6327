/** Entry of a process that reads images; bundled to dist/image-worker.mjs. */
import { readFile } from 'node:fs/promises';
import { decodeTexture } from '../../formats/image/texture.js';
import { readEnvironmentMap } from '../../formats/environment/read.js';
import { writeFileAtomic } from './files.js';
import type { ImageDone, ImageTask } from './imageTask.js';
import { serveTasks } from './serveTasks.js';
import { encodeTexels } from './texels.js';

serveTasks<ImageTask, ImageDone>(async ({ kind, name, path, out }) => {
  const bytes = new Uint8Array(await readFile(path));
  if (kind === 'texture') {
    const { width, height } = await decodeTexture(name, bytes);
    return { width, height };
  }
  const picture = await readEnvironmentMap(name, bytes);
  if (out !== undefined) await writeFileAtomic(out, encodeTexels(picture));
  return { width: picture.width, height: picture.height };
});

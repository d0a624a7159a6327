/** Routes of what is kept by its content: models, environment images, textures, originals. */
import path from 'node:path';
import { ZipArchive } from 'archiver';
import type { Router } from 'express';
import { fileStem, ENVIRONMENT_ENDINGS } from '../../core/model/fileExtensions.js';
import type { SoundReply } from '../../contract/contract.js';
import { SOUND_ENDINGS } from '../../core/movie/sound.js';
import { slugify } from '../../core/plan/fileNames.js';
import type { Original } from '../assets/originals.js';
import type { ServerContext } from '../context.js';
import { ServerError } from '../errors.js';
import { digestOfRevision, findRevision } from '../revisions.js';
import { swatchSheet } from '../previews/swatches.js';
import { immutable } from './caching.js';
import { sendProblem } from './problem.js';
import { idOf } from './params.js';
import { oneFile, receiveFiles, withFiles } from './uploads.js';

const TEXTURES = ['png', 'jpg', 'jpeg', 'webp'];

/** Routes of models, textures, swatches and thumbnails. */
export function assetRoutes(api: Router, context: ServerContext): void {
  const { store } = context;

  api.get('/materials/swatches.webp', async (_request, response) => {
    response.type('image/webp').send(await swatchSheet(context));
  });
  api.post('/environments', receiveFiles(store.uploads()), async (request, response) => {
    response
      .status(201)
      .json(await withFiles(request, (files) => store.saveEnvironmentMap(oneFile(files, ENVIRONMENT_ENDINGS, 'environment image'))));
  });
  api.post('/textures', receiveFiles(store.uploads()), async (request, response) => {
    response.status(201).json(await withFiles(request, (files) => store.keepTexture(oneFile(files, TEXTURES, 'texture'))));
  });
  api.post('/sounds', receiveFiles(store.uploads()), async (request, response) => {
    response.status(201).json((await withFiles(request, (files) => store.keepSound(oneFile(files, SOUND_ENDINGS, 'sound')))) satisfies SoundReply);
  });
  api.get('/sounds/:file', (request, response) => {
    immutable(response).sendFile(store.sound(request.params.file), (e?: Error) => {
      if (e && !response.headersSent) sendProblem(response, 'not-found', `The sound "${request.params.file}" is not here.`);
    });
  });
  api.get('/textures/:file', (request, response) => {
    immutable(response).sendFile(store.texture(request.params.file), (e?: Error) => {
      if (e && !response.headersSent) sendProblem(response, 'not-found', `The texture "${request.params.file}" is not here.`);
    });
  });
  api.get('/environments/:file', (request, response) => {
    immutable(response)
      .type('application/octet-stream')
      .sendFile(store.environment(request.params.file), (e?: Error) => {
        if (e && !response.headersSent) sendProblem(response, 'not-found', `The environment image "${request.params.file}" is not here.`);
      });
  });

  const modelOf = (hash: string): string => {
    if (!/^[0-9a-f]{64}$/.test(hash)) throw new ServerError('invalid-input', `"${hash.slice(0, 80)}" is not the content hash of a model.`);
    return hash;
  };
  api.get('/models/:hash/scene', async (request, response) => {
    const hash = modelOf(request.params.hash);
    // One that was lost is compiled anew.
    if (!(await store.exists(store.scene(hash)))) await store.loadScene(hash);
    immutable(response).type('application/octet-stream').sendFile(store.scene(hash));
  });
  api.get('/models/:hash/model.glb', (request, response) => {
    immutable(response)
      .type('model/gltf-binary')
      .sendFile(store.glb(modelOf(request.params.hash)));
  });
  api.get('/models/:hash/viewport.glb', async (request, response) => {
    const hash = modelOf(request.params.hash);
    const lighter = store.viewport(hash);
    immutable(response)
      .type('model/gltf-binary')
      .sendFile((await store.exists(lighter)) ? lighter : store.glb(hash));
  });
  api.get('/revisions/:id/model.glb', async (request, response) => {
    const revision = await findRevision(idOf(request.params.id, 'revision'));
    response.attachment(`${slugify(fileStem(revision.fileName))}.glb`).type('model/gltf-binary');
    response.sendFile(store.glb(digestOfRevision(revision).hash));
  });

  /** The files as they were uploaded: one as it is, several as a ZIP. */
  api.get('/revisions/:id/original', async (request, response) => {
    const revision = await findRevision(idOf(request.params.id, 'revision'));
    const originals = JSON.parse(revision.originals) as Original[];
    const [first] = originals;
    if (!first)
      throw new ServerError('not-found', `The file of revision ${revision.letter} was not kept as it was uploaded. Its canonical GLB is there.`);
    if (originals.length === 1) {
      response.download(store.original(first.sha256), path.basename(first.name));
      return;
    }
    response.attachment(`${slugify(revision.fileName)}.zip`).type('application/zip');
    const zip = new ZipArchive({ store: true });
    zip.on('error', (e) => response.destroy(e));
    zip.pipe(response);
    for (const { name, sha256 } of originals) zip.file(store.original(sha256), { name: path.basename(name) });
    await zip.finalize();
  });
}

/** Routes of projects, models and sets. */
import { type Router } from 'express';
import { importOptions, type MeterReply, newProject, newSet, saveSet, smallQuery } from '../../contract/contract.js';
import { finishOfOwn, picturesOf } from '../../core/dress/ownFinish.js';
import { fileWord } from '../../core/plan/names.js';
import { type LengthUnit } from '../../core/units/length.js';
import { writePlan } from '../../engine/node/writePlan.js';
import { type ServerContext } from '../context.js';
import { Project } from '../db/models.js';
import {
  addSet,
  createProject,
  describeProject,
  describeSet,
  findProject,
  findRevision,
  findSet,
  importRevision,
  matchRevisions,
  partsOf,
  planContext,
  saveSetFile,
  setFileOf,
  summaryOf,
} from '../projects.js';
import { meterView, SMALL_WIDTHS, smallFrame } from '../small.js';
import { swatchSheet } from '../swatches.js';
import { ServerError } from '../errors.js';
import { goneFrom, idOf, parse, sendProblem } from './problem.js';
import { receiveFiles, takeFiles } from './uploads.js';

export function planRoutes(api: Router, context: ServerContext): void {
  const { store } = context;

  api.get('/projects', async (_request, response) => {
    const projects = await Project.findAll({ order: ['id'] });
    response.json(await Promise.all(projects.map(describeProject)));
  });
  api.post('/projects', async (request, response) => {
    const project = await createProject(context, parse(newProject, request.body).name);
    response.status(201).json(await describeProject(project));
  });
  api.get('/projects/:id', async (request, response) => {
    response.json(await describeProject(await findProject(idOf(request.params.id, 'project'))));
  });
  api.post('/projects/:id/model', receiveFiles(store.uploads()), async (request, response) => {
    const files = await takeFiles(request);
    const { unit, up, faces } = parse(importOptions, { unit: request.query.unit, up: request.query.up, faces: request.query.faces });
    const project = await findProject(idOf(request.params.id, 'project'));
    await importRevision(context, project, files, { unit: unit as LengthUnit, up, facesApart: faces === 'apart' }, goneFrom(response));
    response.status(201).json(await describeProject(project));
  });

  api.get('/finishes/swatches.webp', async (_request, response) => {
    const bytes = await swatchSheet(context);
    response.set('cache-control', 'private, max-age=86400').type('image/webp').send(bytes);
  });
  api.post('/surrounds', receiveFiles(store.uploads()), async (request, response) => {
    const [file] = await takeFiles(request);
    if (!file) throw new ServerError('invalid-input', 'Send the picture of light as a file.');
    response.status(201).json(await store.keepSurround(file));
  });
  api.post('/textures', receiveFiles(store.uploads()), async (request, response) => {
    const [file] = await takeFiles(request);
    if (!file) throw new ServerError('invalid-input', 'Send the picture as a file.');
    response.status(201).json(await store.keepTexture(file));
  });
  api.get('/textures/:file', (request, response) => {
    response.set('cache-control', 'private, max-age=31536000, immutable').sendFile(store.texture(request.params.file), (e?: Error) => {
      if (e && !response.headersSent) sendProblem(response, 'not-found', `The texture "${request.params.file}" is not here.`);
    });
  });
  api.get('/surrounds/:file', (request, response) => {
    response
      .set('cache-control', 'private, max-age=31536000, immutable')
      .type('application/octet-stream')
      .sendFile(store.surround(request.params.file), (e?: Error) => {
        if (e && !response.headersSent) sendProblem(response, 'not-found', `The environment image "${request.params.file}" is not here.`);
      });
  });

  api.get('/revisions/:id/parts', async (request, response) => {
    response.json(partsOf(await findRevision(idOf(request.params.id, 'revision'))));
  });
  api.get('/revisions/:id/match', async (request, response) => {
    const earlier = request.query.with === undefined ? undefined : idOf(request.query.with, 'revision');
    response.json(await matchRevisions(await findRevision(idOf(request.params.id, 'revision')), earlier));
  });
  api.get('/revisions/:id/scene', async (request, response) => {
    const revision = await findRevision(idOf(request.params.id, 'revision'));
    response.set('cache-control', 'private, max-age=31536000, immutable').type('application/octet-stream').sendFile(store.scene(revision.hash));
  });
  api.get('/revisions/:id/model.glb', async (request, response) => {
    const revision = await findRevision(idOf(request.params.id, 'revision'));
    response.set('cache-control', 'private, max-age=31536000, immutable').type('model/gltf-binary');
    if (request.query.download !== undefined) response.attachment(`${fileWord(revision.fileName.replace(/\.[^.]+$/, ''))}.glb`);
    response.sendFile(store.glb(revision.hash));
  });

  api.get('/revisions/:id/viewport.glb', async (request, response) => {
    const revision = await findRevision(idOf(request.params.id, 'revision'));
    response.set('cache-control', 'private, max-age=31536000, immutable').type('model/gltf-binary');
    response.sendFile(summaryOf(revision).reduced === undefined ? store.glb(revision.hash) : store.viewport(revision.hash));
  });

  api.post('/projects/:id/sets', async (request, response) => {
    const project = await findProject(idOf(request.params.id, 'project'));
    response.status(201).json(describeSet(await addSet(context, project, parse(newSet, request.body).file)));
  });
  api.get('/sets/:id', async (request, response) => {
    response.json(describeSet(await findSet(idOf(request.params.id, 'set'))));
  });
  api.put('/sets/:id', async (request, response) => {
    const { file, version } = parse(saveSet, request.body);
    response.json(describeSet(await saveSetFile(context, idOf(request.params.id, 'set'), version, file)));
  });
  api.get('/sets/:id/export', async (request, response) => {
    const file = setFileOf(await findSet(idOf(request.params.id, 'set')));
    response
      .attachment(`${fileWord(file.name)}.set.json`)
      .type('application/json')
      .send(`${JSON.stringify(file, null, 2)}\n`);
  });
  api.get('/sets/:id/meter', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const revision = await findRevision(idOf(request.query.revision, 'revision'));
    const text = (name: string): string | undefined => (typeof request.query[name] === 'string' ? request.query[name] : undefined);
    response.json({ exposure: await meterView(context, project, set, revision, text('view') ?? '', text('stage')) } satisfies MeterReply);
  });
  api.get('/sets/:id/plan.glb', async (request, response) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const revision = await findRevision(idOf(request.query.revision, 'revision'));
    const file = setFileOf(set);
    let bytes: Uint8Array;
    try {
      const pictures: Record<string, string> = {};
      for (const name of picturesOf((file.dressing?.finishes ?? []).map(finishOfOwn)))
        if (await store.hasTexture(name)) pictures[name] = store.texture(name);
      bytes = await writePlan({ set: file, context: planContext(project, revision), model: store.glb(revision.hash), pictures });
    } catch (e) {
      throw new ServerError('unusable', (e as Error).message);
    }
    response
      .attachment(`${fileWord(file.name)}.glb`)
      .type('model/gltf-binary')
      .send(Buffer.from(bytes));
  });
  api.get('/sets/:id/small', async (request, response) => {
    const { revision, width, ...asked } = request.query;
    const set = await findSet(idOf(request.params.id, 'set'));
    const project = await findProject(set.projectId);
    const size = Number(width ?? SMALL_WIDTHS[0]);
    if (!SMALL_WIDTHS.includes(size)) throw new ServerError('invalid-input', `width: there is ${SMALL_WIDTHS.join(', ')}.`);
    const what = parse(smallQuery, asked);
    const bytes = await smallFrame(context, project, set, await findRevision(idOf(revision, 'revision')), what, size, goneFrom(response));
    // The address carries the set's version, so what it shows does not change.
    response.set('cache-control', 'private, max-age=3600').type('image/webp').send(bytes);
  });
}

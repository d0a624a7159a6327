/** Routes of the movies of batches: made, foreseen, made again, stopped, and sent. */
import type { Router } from 'express';
import { type MovieForecastReply, newClip } from '../../contract/batches.js';
import { startClip } from '../batches/clips.js';
import { forecastMovie } from '../batches/movieForecast.js';
import { findClip, makeAgain, staleMovies, stopMovie, type TellBatch } from '../batches/movies.js';
import { startReel } from '../batches/reels.js';
import { findBatch, toClipReply } from '../batches/repository.js';
import type { ServerContext } from '../context.js';
import { Clip } from '../db/models.js';
import { notFound, ServerError } from '../errors.js';
import { abortOnClose, idOf, parse } from './params.js';

/** Routes of movies. @param tellBatch tells pages that a batch has changed. */
export function movieRoutes(api: Router, context: ServerContext, tellBatch: TellBatch): void {
  api.post('/batches/:id/clips', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const tell = (): Promise<void> => tellBatch(batch);
    const asked = parse(newClip, request.body);
    const clip = 'reel' in asked ? await startReel(context, batch, asked.reel, tell, asked.background) : await startClip(context, batch, asked, tell);
    response.status(201).json(toClipReply(clip));
  });
  /** How large a movie will be. */
  api.post('/batches/:id/clips/forecast', async (request, response) => {
    const batch = await findBatch(idOf(request.params.id, 'batch'));
    const asked = parse(newClip, request.body);
    if ('reel' in asked) throw new ServerError('unusable', 'The size of a reel is not foreseen. Ask for the movie of a shot.');
    response.json((await forecastMovie(context, batch, asked, abortOnClose(response))) satisfies MovieForecastReply);
  });
  /** Movies whose frames have changed since. */
  api.get('/batches/:id/clips/stale', async (request, response) => {
    response.json(await staleMovies(context, await findBatch(idOf(request.params.id, 'batch'))));
  });
  api.post('/clips/:id/again', async (request, response) => {
    response.json(toClipReply(await makeAgain(context, await findClip(idOf(request.params.id, 'movie')), tellBatch)));
  });
  api.post('/clips/:id/stop', async (request, response) => {
    await stopMovie(context, await findClip(idOf(request.params.id, 'movie')));
    response.status(204).end();
  });
  api.get('/clips/:id/movie', async (request, response) => {
    const clip = await Clip.findByPk(idOf(request.params.id, 'clip'));
    if (!clip || clip.state !== 'ready') throw notFound(`Clip ${request.params.id}`);
    const batch = await findBatch(clip.batchId);
    const file = context.store.picture(batch.folder, clip.fileName);
    if (request.query.download !== undefined) response.download(file);
    else response.sendFile(file);
  });
}

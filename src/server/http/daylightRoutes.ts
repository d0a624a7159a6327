/** Routes of sun and place. */
import type { Request, Router } from 'express';
import {
  floorQuery,
  type FloorReply,
  placesQuery,
  type PlacesReply,
  silhouetteQuery,
  type SilhouetteReply,
  sunHoursQuery,
  type SunHoursReply,
  windowSunQuery,
  type WindowSunReply,
} from '../../contract/daylight.js';
import { clearanceQuery, type ClearanceReply, clearanceRequest, revealQuery, type RevealReply } from '../../contract/clearance.js';
import type { Vec3 } from '../../core/math/bounds.js';
import { slugify } from '../../core/plan/fileNames.js';
import { FLOOR_SHARE } from '../../core/stage/floor.js';
import { hoursCsv } from '../../core/stage/sunHours.js';
import type { ServerContext } from '../context.js';
import { clearanceOf, findPlaces, groundSun, ownFloor, silhouetteOf, windowSun } from '../daylight.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { findSet, setFileOf } from '../sets.js';
import { revealAreas } from '../sectionAreas.js';
import { idOf, parse } from './params.js';

/** Routes of sun paths and hours of sun. */
export function daylightRoutes(api: Router, context: ServerContext): void {
  const subject = async (request: Request, revision: number) => {
    const set = await findSet(idOf(request.params.id, 'set'));
    return { set, project: await findProject(set.projectId), revision: await findRevision(revision) };
  };
  api.get('/places', (request, response) => {
    response.json(findPlaces(parse(placesQuery, request.query).q) satisfies PlacesReply);
  });
  api.get('/sets/:id/silhouette', async (request, response) => {
    const { revision: id, x, z } = parse(silhouetteQuery, request.query);
    const { project, set, revision } = await subject(request, id);
    const { cells, ...shape } = await silhouetteOf(context, project, set, revision, { x, z });
    response.json({ ...shape, cells: cells.join('') } satisfies SilhouetteReply);
  });
  api.get('/sets/:id/sun-hours', async (request, response) => {
    const asked = parse(sunHoursQuery, request.query);
    const { project, set, revision } = await subject(request, asked.revision);
    const ground = await groundSun(context, project, set, revision, asked);
    if (asked.format === 'csv') {
      response
        .attachment(`${slugify(setFileOf(set).name)}-sun-hours-${asked.date}.csv`)
        .type('text/csv')
        .send(hoursCsv(ground));
      return;
    }
    response.json(ground satisfies SunHoursReply);
  });
  api.post('/sets/:id/clearance', async (request, response) => {
    const { project, set, revision } = await subject(request, parse(clearanceQuery, request.query).revision);
    const { points, stations } = parse(clearanceRequest, request.body);
    response.json(
      (await clearanceOf(context, project, set, revision, { points: points as Vec3[], stations: stations as Vec3[] })) satisfies ClearanceReply,
    );
  });
  api.get('/sets/:id/reveal', async (request, response) => {
    const { revision: id, shot } = parse(revealQuery, request.query);
    const { project, set, revision } = await subject(request, id);
    response.json((await revealAreas(context, project, set, revision, shot)) satisfies RevealReply);
  });
  api.get('/sets/:id/floor', async (request, response) => {
    const { revision: id, height } = parse(floorQuery, request.query);
    const { project, set, revision } = await subject(request, id);
    response.json({ ...(await ownFloor(context, project, set, revision, height)), needs: FLOOR_SHARE } satisfies FloorReply);
  });
  api.get('/sets/:id/window-sun', async (request, response) => {
    const { revision: id, x, y, z, ...day } = parse(windowSunQuery, request.query);
    const { project, set, revision } = await subject(request, id);
    response.json((await windowSun(context, project, set, revision, { ...day, point: [x, y, z] })) satisfies WindowSunReply);
  });
}

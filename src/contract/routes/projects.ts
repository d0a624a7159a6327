/** Routes of projects, revisions, sets, their plans and checks. */
import * as z from 'zod';
import { clearanceQuery, clearanceReply, clearanceRequest, revealQuery, revealReply } from '../clearance.js';
import { importOptions, matchReply, meterReply, newProject, newSet, partReply, projectReply, saveSet, setReply } from '../contract.js';
import { changesQuery, changesReply } from '../changes.js';
import {
  floorQuery,
  floorReply,
  placesQuery,
  placesReply,
  silhouetteQuery,
  silhouetteReply,
  sunHoursQuery,
  sunHoursReply,
  windowSunQuery,
  windowSunReply,
} from '../daylight.js';
import { choicePictureQuery, forecastQuery } from '../forecast.js';
import { plannedPixelQuery } from '../pixel.js';
import { changePreset, fromTemplate, newPreset, presetReply } from '../presets.js';
import { testFrameQuery } from '../testFrame.js';
import { forecastReply, framesReply, pixelReply, preflightReply } from './replies.js';
import type { RouteTable } from './route.js';

/** Nothing to say but that it is done. */
export const done = z.strictObject({});
const ofRevision = z.object({ revision: z.string().describe('Id of the revision') });
const thumbnailQuery = ofRevision.extend({
  width: z.enum(['96', '320', '640']).optional(),
  soon: z.string().optional().describe('Given, what is not drawn yet is answered 96 pixels wide'),
  view: z.string().optional().describe('Id of a view, with an empty one for the view that a person starts from'),
  stage: z.string().optional().describe('Stage preset of the view instead of its own'),
  shot: z.string().optional(),
  index: z.string().optional(),
  drawing: z.enum(['plan', 'elevation']).optional(),
  cut: z.string().optional().describe('Metres at which the plan is cut'),
});
/** Routes of projects, their models and their sets. */
export const PROJECT_ROUTES = {
  'GET /projects': { does: 'Lists the projects with their revisions and sets', reply: z.array(projectReply) },
  'POST /projects': { does: 'Makes a project with an empty set', body: newProject, reply: projectReply, status: 201 },
  'GET /projects/:id': { does: 'Tells a project', reply: projectReply },
  'PUT /projects/:id': { does: 'Renames a project', body: newProject, reply: projectReply },
  'DELETE /projects/:id': { does: 'Deletes a project; it can be restored for seven days', reply: done },
  'POST /projects/:id/restore': { does: 'Restores a deleted project', reply: projectReply },
  'POST /projects/:id/duplicate': { does: 'Copies a project with its revisions and sets', reply: projectReply, status: 201 },
  'POST /projects/:id/model': { does: 'Imports a model as the next revision', query: importOptions, body: 'files', reply: projectReply, status: 201 },
  'POST /projects/:id/sets': { does: 'Adds a set', body: newSet, reply: setReply, status: 201 },
  'POST /projects/:id/sets/from-template': { does: 'Adds a set by a template, made to measure', body: fromTemplate, reply: setReply, status: 201 },
  'GET /projects/:id/templates/:template/thumbnail': { does: 'Draws what a template would render first', reply: 'image/webp' },
  'GET /templates': { does: 'Lists the set templates', reply: z.array(z.looseObject({ id: z.string(), name: z.string(), help: z.string() })) },
  'GET /presets': { does: 'Lists what was kept as presets', reply: z.array(presetReply) },
  'POST /presets': { does: 'Keeps a preset, over one of the same name', body: newPreset, reply: presetReply, status: 201 },
  'PUT /presets/:id': { does: 'Renames a preset, or makes it the default', body: changePreset, reply: presetReply },
  'DELETE /presets/:id': { does: 'Deletes a preset', reply: done },
  'GET /presets/:id/export': { does: 'Gives a preset as a file', reply: 'application/json' },
  'DELETE /revisions/:id': { does: 'Deletes a revision; it can be restored for seven days', reply: done },
  'POST /revisions/:id/restore': { does: 'Restores a deleted revision', reply: done },
  'GET /revisions/:id/parts': { does: 'Lists the parts of a revision', reply: z.array(partReply) },
  'GET /revisions/:id/match': { does: 'Says which parts of an earlier revision are which', reply: matchReply },
  'GET /revisions/:id/model.glb': { does: 'Gives the model as GLB', reply: 'model/gltf-binary' },
  'GET /revisions/:id/original': { does: 'Gives the files that were imported', reply: 'application/octet-stream' },
  'GET /models/:hash/model.glb': { does: 'Gives a model by its content hash', reply: 'model/gltf-binary' },
  'GET /models/:hash/viewport.glb': { does: 'Gives its lighter form for the viewport', reply: 'model/gltf-binary' },
  'GET /models/:hash/scene': { does: 'Gives the compiled scene for the live preview', reply: 'application/octet-stream' },
  'GET /sets/:id': { does: 'Tells a set with its version', reply: setReply },
  'PUT /sets/:id': { does: 'Saves a set over the version that it was read in', body: saveSet, reply: setReply },
  'DELETE /sets/:id': { does: 'Deletes a set; it can be restored for seven days', reply: done },
  'POST /sets/:id/restore': { does: 'Restores a deleted set', reply: done },
  'GET /sets/:id/export': { does: 'Gives the set file', reply: 'application/json' },
  'GET /sets/:id/thumbnail': { does: 'Draws a frame, a view or a plan small', query: thumbnailQuery, reply: 'image/webp' },
  'GET /sets/:id/exposure': { does: 'Finds the stops that suit a view', query: ofRevision.extend({ view: z.string() }), reply: meterReply },
  'GET /sets/:id/plan.glb': { does: 'Gives the plan with cameras and animation as GLB', query: ofRevision, reply: 'model/gltf-binary' },
  'GET /sets/:id/plan.json': { does: 'Gives every frame of the plan', query: ofRevision, reply: framesReply },
  'GET /sets/:id/lists/:list': { does: 'Gives shots or suns as CSV, or the timeline as OTIO, EDL or USD', query: ofRevision, reply: 'text/plain' },
  'GET /sets/:id/preflight': {
    does: 'Checks the set before it runs',
    query: ofRevision.extend({ select: z.string().optional(), variant: z.string().optional() }),
    reply: preflightReply,
  },
  'GET /sets/:id/forecast': { does: 'Foresees time and room', query: forecastQuery, reply: forecastReply },
  'GET /sets/:id/choice.webp': { does: 'Renders the middle of a frame as a change would make it', query: choicePictureQuery, reply: 'image/webp' },
  'GET /sets/:id/test-frame.png': { does: 'Renders one frame at once', query: testFrameQuery, reply: 'image/png' },
  'GET /sets/:id/pixel': { does: 'Tells what stands in a pixel of a planned frame', query: plannedPixelQuery, reply: pixelReply },
  'GET /sets/:id/changes': { does: 'Says what a start would render, and why', query: changesQuery, reply: changesReply },
  'POST /sets/:id/clearance': {
    does: 'Measures the room about points of a path',
    query: clearanceQuery,
    body: clearanceRequest,
    reply: clearanceReply,
  },
  'GET /sets/:id/reveal': { does: 'Measures the areas that a section reveals', query: revealQuery, reply: revealReply },
  'GET /sets/:id/floor': { does: 'Finds the floor below the subject', query: floorQuery, reply: floorReply },
  'GET /sets/:id/silhouette': { does: 'Says what the design hides of the sky at a place', query: silhouetteQuery, reply: silhouetteReply },
  'GET /sets/:id/sun-hours': { does: 'Counts hours of sun over the ground', query: sunHoursQuery, reply: sunHoursReply },
  'GET /sets/:id/window-sun': { does: 'Counts hours of sun at a window', query: windowSunQuery, reply: windowSunReply },
  'GET /places': { does: 'Finds cities by the start of their names', query: placesQuery, reply: placesReply },
} satisfies RouteTable;

/** Routes of batches, what is judged of them, and what goes out. */
import * as z from 'zod';
import { batchReply, clipReply, frameReply, moveBatch, movieForecastReply, newBatch, newClip, newDecision } from '../batches.js';
import { pageQuery, setReply, verifyReply } from '../contract.js';
import { newAnswer, newNote, noteChange, noteReply, placedNote } from '../notes.js';
import { packageChanges } from '../../core/handover/manifest.js';
import { deliveryReply, encoderReply, newDelivery, newPackage, newWaiver, packageReply } from '../packages.js';
import { pixelQuery } from '../pixel.js';
import { batchContents, batchReport, mastersReply, soFarQuery, tilesReply } from '../queue.js';
import {
  compareQuery,
  comparisonReply,
  decisionReply,
  linearQuery,
  matteQuery,
  matteReply,
  newChangesSheet,
  newRunDecision,
  resultReply,
  runQuery,
  shownQuery,
  staleQuery,
  staleReply,
} from '../results.js';
import { importedNotes, newReviewFolder, newReviewPage, reviewPageReply, writtenNotes } from '../reviewPages.js';
import { pixelReply } from './projects.js';
import type { RouteTable } from './route.js';

const setDifferences = z.array(z.string());
const frozenPlan = z.object({ frames: z.array(z.looseObject({ shot: z.string(), number: z.int(), identity: z.string() })) });

/** Routes of batches and their renders. */
export const BATCH_ROUTES = {
  'GET /batches': { does: 'Lists batches, the latest first', reply: z.array(batchReply) },
  'POST /sets/:id/batches': { does: 'Freezes the plan and queues a batch', body: newBatch, reply: batchReply, status: 201 },
  'GET /batches/:id': { does: 'Tells a batch', reply: batchReply },
  'DELETE /batches/:id': { does: 'Deletes a batch; it can be restored for seven days' },
  'POST /batches/:id/restore': { does: 'Restores a deleted batch', reply: batchReply },
  'POST /batches/:id/pause': { does: 'Pauses a batch', reply: batchReply },
  'POST /batches/:id/resume': { does: 'Goes on with a batch that is paused or held', reply: batchReply },
  'POST /batches/:id/stop': { does: 'Stops a batch', reply: batchReply },
  'POST /batches/:id/retry': { does: 'Renders its failed frames again', reply: batchReply },
  'POST /batches/:id/render-damaged': { does: 'Renders frames again whose files are damaged', reply: batchReply },
  'POST /batches/:id/again': { does: 'Renders the same plan once more', reply: batchReply, status: 201 },
  'POST /batches/:id/set': { does: 'Makes a new set of the plan as it was', reply: setReply, status: 201 },
  'PUT /batches/:id/place': { does: 'Moves a batch in the queue, or gives it a priority or a start', body: moveBatch, reply: batchReply },
  'POST /batches/:id/open-folder': { does: 'Opens its folder on the machine of the server' },
  'POST /batches/:id/verify': { does: 'Reads its files again', reply: verifyReply },
  'GET /batches/:id/contents': { does: 'Counts what goes where it is deleted', reply: batchContents },
  'GET /batches/:id/cover': { does: 'Gives its first finished frame small', reply: 'image/webp' },
  'GET /batches/:id/differences': { does: 'Says what of the set is otherwise today', reply: setDifferences },
  'GET /batches/:id/plan': { does: 'Gives every frame of the frozen plan', reply: frozenPlan },
  'GET /batches/:id/forecast': { does: 'Gives seconds a frame as foreseen', reply: z.object({ seconds: z.array(z.unknown()) }) },
  'GET /batches/:id/report': { does: 'Reports a batch', reply: batchReport },
  'GET /batches/:id/report.html': { does: 'Reports a batch as a page', reply: 'text/html' },
  'GET /batches/:id/days.html': { does: 'Gives a sun study as a page', query: z.object({ shot: z.string() }), reply: 'text/html' },
  'GET /batches/:id/stills.zip': { does: 'Gives the files of its frames', reply: 'application/zip' },
  'GET /batches/:id/frames': { does: 'Lists its frames by pages', query: pageQuery.extend(runQuery.shape), reply: z.array(frameReply) },
  'POST /batches/:id/frames/:frame/finish': { does: 'Takes a still as it is', reply: batchReply },
  'POST /batches/:id/frames/:frame/resume': { does: 'Goes on sampling a still that was taken early', reply: batchReply },
  'GET /batches/:id/frames/:frame/picture': { does: 'Gives a file of a frame', reply: 'image/*' },
  'GET /batches/:id/frames/:frame/thumb': { does: 'Gives a frame small', reply: 'image/webp' },
  'GET /batches/:id/frames/:frame/progress.webp': { does: 'Gives a frame in work', query: soFarQuery, reply: 'image/webp' },
  'GET /batches/:id/frames/:frame/tiles': { does: 'Tells where in a frame in work the workers are', reply: tilesReply },
  'GET /batches/:id/frames/:frame/shown.png': { does: 'Gives a pass as a person sees it', query: shownQuery, reply: 'image/png' },
  'GET /batches/:id/frames/:frame/linear': {
    does: 'Gives its light before the grade as halves',
    query: linearQuery,
    reply: 'application/octet-stream',
  },
  'GET /batches/:id/frames/:frame/matte': { does: 'Says which part or material stands in each pixel', query: matteQuery, reply: matteReply },
  'GET /batches/:id/frames/:frame/pixel': { does: 'Tells what stands in a pixel of a finished frame', query: pixelQuery, reply: pixelReply },
  'PUT /batches/:id/frames/:frame/decision': { does: 'Accepts a render, or asks for it again', body: newDecision, reply: frameReply },
  'PUT /batches/:id/decision': { does: 'Decides on a whole shot', body: newRunDecision, reply: z.object({ frames: z.int() }) },
  'GET /batches/:id/frames/:frame/notes': { does: 'Lists the notes of a frame', reply: z.array(placedNote) },
  'POST /batches/:id/frames/:frame/notes': { does: 'Pins a note to a frame', body: newNote, reply: noteReply, status: 201 },
  'PUT /notes/:id': { does: 'Changes a note', body: noteChange, reply: noteReply },
  'POST /notes/:id/answers': { does: 'Answers a note', body: newAnswer, reply: noteReply, status: 201 },
  'DELETE /notes/:id': { does: 'Deletes a note' },
  'POST /notes/:id/restore': { does: 'Restores a deleted note' },
  'GET /masters': { does: 'Says what masters take', reply: mastersReply },
  'GET /sets/:id/results': { does: 'Lists what there is to judge of a set', reply: z.array(resultReply) },
  'GET /sets/:id/stale': { does: 'Says which renders would come out otherwise today', query: staleQuery, reply: staleReply },
  'GET /sets/:id/decisions': { does: 'Lists all decisions, also as CSV', reply: z.array(decisionReply) },
  'GET /sets/:id/notes': { does: 'Lists the notes of a set', reply: z.array(noteReply) },
  'POST /sets/:id/notes/import': { does: 'Takes notes out of a review folder', body: writtenNotes, reply: importedNotes },
  'GET /compare': { does: 'Compares two renders', query: compareQuery, reply: comparisonReply },
  'POST /sets/:id/changes-sheet': { does: 'Gives what changed as a sheet', body: newChangesSheet, reply: 'application/pdf' },
  'GET /sets/:id/review-pages': { does: 'Lists the review pages of a set', reply: z.array(reviewPageReply) },
  'POST /sets/:id/review-pages': { does: 'Makes a review page', body: newReviewPage, reply: reviewPageReply, status: 201 },
  'DELETE /review-pages/:id': { does: 'Revokes a review page' },
  'POST /sets/:id/review-folder': { does: 'Gives a review page as a folder', body: newReviewFolder, reply: 'application/zip' },
  'POST /batches/:id/clips': { does: 'Queues a movie of a shot or a reel', body: newClip, reply: clipReply, status: 201 },
  'POST /batches/:id/clips/forecast': { does: 'Foresees how large a movie will be', body: newClip, reply: movieForecastReply },
  'GET /batches/:id/clips/stale': { does: 'Lists movies whose frames changed since', reply: z.array(z.int()) },
  'POST /clips/:id/again': { does: 'Makes a movie again', reply: clipReply },
  'POST /clips/:id/stop': { does: 'Stops a movie that is being made' },
  'GET /clips/:id/movie': { does: 'Gives a movie', reply: 'video/*' },
  'GET /encoder': { does: 'Says which encoder makes movies', reply: encoderReply },
  'GET /sets/:id/packages': { does: 'Lists the packages of a set', reply: z.array(packageReply) },
  'GET /packages/:id/changes': { does: 'Tells which files changed since earlier packages of the set', reply: packageChanges.nullable() },
  'POST /sets/:id/packages': { does: 'Makes a package, and audits it', body: newPackage, reply: packageReply, status: 201 },
  'GET /packages/:id': { does: 'Tells a package', reply: packageReply },
  'DELETE /packages/:id': { does: 'Deletes a package' },
  'POST /packages/:id/audit': { does: 'Reads all its files again', reply: packageReply, status: 202 },
  'POST /packages/:id/waivers': { does: 'Accepts a fault with a reason', body: newWaiver, reply: packageReply },
  'GET /packages/:id/audit.html': { does: 'Gives its audit as a page', reply: 'text/html' },
  'GET /packages/:id/sheets/:name': { does: 'Gives one of its sheets', reply: 'application/pdf' },
  'GET /packages/:id/download': { does: 'Gives a package that is ready as ZIP', reply: 'application/zip' },
  'GET /packages/:id/deliveries': { does: 'Lists where it was sent', reply: z.array(deliveryReply) },
  'POST /packages/:id/deliveries': { does: 'Sends it to a drop-off or a folder', body: newDelivery, reply: deliveryReply, status: 201 },
  'POST /deliveries/:id/stop': { does: 'Stops a delivery' },
} satisfies RouteTable;

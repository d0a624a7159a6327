/** Routes of packages: made, audited, waived, downloaded. */
import path from 'node:path';
import { ZipArchive } from 'archiver';
import type { Router } from 'express';
import { type EncoderReply, newDelivery, newPackage, newWaiver } from '../../contract/packages.js';
import type { PackageChanges } from '../../core/handover/manifest.js';
import { filesBelow } from '../../engine/node/auditPackage.js';
import { encoderFacts } from '../../engine/node/ffmpeg.js';
import { AUDIT_POLICY, auditHtml } from '../handover/auditHtml.js';
import { archiveName } from '../handover/buildPackage.js';
import type { Deliveries } from '../handover/deliveries.js';
import type { Packages } from '../handover/packages.js';
import { ServerError } from '../errors.js';
import { findSet } from '../sets.js';
import { idOf, parse } from './params.js';

/** Routes of packages and where they are sent. */
export function packageRoutes(api: Router, packages: Packages, deliveries: Deliveries): void {
  api.get('/packages/:id/deliveries', async (request, response) => {
    response.json(await deliveries.list((await packages.find(idOf(request.params.id, 'package'))).id));
  });
  api.post('/packages/:id/deliveries', async (request, response) => {
    response.status(201).json(await deliveries.create(idOf(request.params.id, 'package'), parse(newDelivery, request.body)));
  });
  api.post('/deliveries/:id/stop', async (request, response) => {
    await deliveries.stop(idOf(request.params.id, 'delivery'));
    response.status(204).end();
  });
  api.get('/sets/:id/packages', async (request, response) => {
    const { id } = await findSet(idOf(request.params.id, 'set'));
    response.json(await packages.list(id));
  });
  api.post('/sets/:id/packages', async (request, response) => {
    const { id } = await findSet(idOf(request.params.id, 'set'));
    response.status(201).json(await packages.create(id, parse(newPackage, request.body)));
  });
  api.get('/encoder', (_request, response) => {
    response.json(encoderFacts() satisfies EncoderReply);
  });
  api.get('/packages/:id', async (request, response) => {
    response.json(packages.reply(await packages.find(idOf(request.params.id, 'package'))));
  });
  api.post('/packages/:id/audit', async (request, response) => {
    response.status(202).json(await packages.audit(idOf(request.params.id, 'package')));
  });
  api.post('/packages/:id/waivers', async (request, response) => {
    response.json(await packages.waive(idOf(request.params.id, 'package'), parse(newWaiver, request.body)));
  });
  api.delete('/packages/:id', async (request, response) => {
    await packages.remove(idOf(request.params.id, 'package'));
    response.status(204).end();
  });
  /** A page that a person can be sent. */
  api.get('/packages/:id/audit.html', async (request, response) => {
    const row = await packages.find(idOf(request.params.id, 'package'));
    response
      .set('content-security-policy', AUDIT_POLICY)
      .type('html')
      .send(auditHtml(packages.reply(row), await packages.manifest(row)));
  });
  api.get('/packages/:id/changes', async (request, response) => {
    const row = await packages.find(idOf(request.params.id, 'package'));
    if (row.state === 'making') throw new ServerError('conflict', 'The package is being made; what changed is known then.');
    response.json(((await packages.manifest(row)).since ?? null) satisfies PackageChanges | null);
  });
  api.get('/packages/:id/sheets/:name', async (request, response) => {
    const row = await packages.find(idOf(request.params.id, 'package'));
    const name = packages.reply(row).sheets.find((s) => s === request.params.name);
    if (!name) throw new ServerError('not-found', `Package ${row.id} has no sheet "${request.params.name}".`);
    // A page of HTML is opened from where it is saved: pages of this server may not have styles and images of their own.
    if (name.endsWith('.html')) response.download(path.join(packages.folder(row), name));
    else response.sendFile(path.join(packages.folder(row), name));
  });
  api.get('/packages/:id/download', async (request, response) => {
    const row = await packages.find(idOf(request.params.id, 'package'));
    if (row.state !== 'ready')
      throw new ServerError(
        'conflict',
        row.state === 'making' ? 'The package is being made.' : 'The package has open faults. Mend or waive them before it is handed over.',
      );
    await packages.manifest(row);
    const folder = packages.folder(row);
    response.attachment(archiveName(row.name)).type('application/zip');
    // Renders are compressed already; what is longer than 4 GB is written with ZIP64.
    const zip = new ZipArchive({ store: true });
    zip.on('error', (e) => response.destroy(e));
    zip.pipe(response);
    for (const name of await filesBelow(folder)) zip.file(path.join(folder, name), { name });
    await zip.finalize();
  });
}

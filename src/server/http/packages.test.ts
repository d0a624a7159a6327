/** Packages: put together, audited by their files, handed over as an archive; and audited again anywhere, with faults planted. */
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import sharp from 'sharp';
import { beforeEach, describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { PackagesHere } from '../../../tests/support/packagesHere.js';
import { until } from '../../../tests/support/until.js';
import type { BatchReply } from '../../contract/batches.js';
import type { SetReply } from '../../contract/contract.js';
import type { DeliveryReply, PackageReply } from '../../contract/packages.js';
import type { Manifest } from '../../core/handover/manifest.js';
import type { SetFile } from '../../core/plan/set.js';
import { startDropOff } from '../../engine/node/dropOffStand.js';
import { findFfmpeg } from '../../engine/node/ffmpeg.js';

const here = new BatchesHere();
const call = () => here.server.call();
const packages = new PackagesHere(here);
const audit = (
  at: string,
): { status: number | null; result: { ok: boolean; files: number; faults: { rule: string; file: string; expected: string; found: string }[] } } => {
  const { status, stdout } = spawnSync(process.execPath, ['bin/easel.mjs', 'audit', at, '--json'], { encoding: 'utf8' });
  return { status, result: JSON.parse(stdout) as never };
};

describe('a package', () => {
  let set: SetReply;
  let batch: BatchReply;
  beforeEach(async () => {
    set = await here.addSet(packages.deliverable());
    batch = await here.rendered(set);
  });

  async function withMovie(): Promise<void> {
    await call().post(`/api/batches/${batch.id}/clips`).send({ shot: 'spin' }).expect(201);
    await expect.poll(async () => (await here.batch(batch.id)).clips[0]?.state, { timeout: 30_000 }).toBe('ready');
  }

  it('is audited by its files, opens anywhere, and each planted fault is named', async () => {
    await withMovie();
    const pack = await packages.made(set, batch, { sheet: { paper: 'A4', across: true, columns: 3 } });
    expect([pack.state, pack.faults]).toEqual(['ready', []]);
    const whole = await packages.unpacked(pack.id);
    // What anybody has: the tool of GNU coreutils.
    expect(execFileSync('sha256sum', ['-c', 'checksums.sha256', '--quiet'], { cwd: whole, encoding: 'utf8' })).toBe('');
    const manifest = JSON.parse(readFileSync(path.join(whole, 'manifest.json'), 'utf8')) as Manifest;
    const kinds = manifest.files.map((f) => f.kind);
    // 7 renders in two types, a movie, the sheet, the plan, the model, two reports, decisions and notes.
    expect(['render', 'movie', 'sheet', 'plan', 'model', 'report'].map((k) => kinds.filter((x) => x === k).length)).toEqual([14, 1, 1, 1, 1, 4]);
    expect(JSON.stringify(manifest)).not.toContain(here.server.running.context.store.root);
    const good = audit(whole);
    expect([good.status, good.result.ok, good.result.files]).toEqual([0, true, 22]);

    const planted: [string, (at: string) => void, object][] = [
      ['missing', (at) => rmSync(path.join(at, fileOf('spin', 3))), { rule: 'missing', file: fileOf('spin', 3) }],
      ['torn', (at) => truncateSync(path.join(at, fileOf('spin', 2)), 400), { rule: 'torn', file: fileOf('spin', 2) }],
      ['unlisted', (at) => writeFileSync(path.join(at, 'extra.txt'), 'x'), { rule: 'unlisted', file: 'extra.txt' }],
    ];
    function fileOf(run: string, number: number): string {
      return manifest.files.find((f) => f.kind === 'render' && f.run.endsWith(run) && f.number === number && f.type === 'png 16')!.path;
    }
    const spoilt = packages.folder();
    cpSync(whole, spoilt, { recursive: true });
    for (const [, plant] of planted) plant(spoilt);
    const bad = audit(spoilt);
    expect([bad.status, bad.result.ok]).toEqual([3, false]);
    for (const [, , fault] of planted) expect(bad.result.faults).toContainEqual(expect.objectContaining(fault));
    // A wrong size, name and rate, with checksums that fit: the files themselves say it.
    const at = packages.folder();
    cpSync(whole, at, { recursive: true });
    const own = structuredClone(manifest);
    const put = (name: string, bytes: Buffer): void => {
      writeFileSync(path.join(at, name), bytes);
      const entry = own.files.find((f) => f.path === name)!;
      entry.bytes = bytes.length;
      entry.sha256 = execFileSync('sha256sum', [path.join(at, name)], { encoding: 'utf8' }).slice(0, 64);
    };
    const resized = await sharp(path.join(at, fileOf('spin', 4)))
      .resize(62, 36, { fit: 'fill' })
      .toColourspace('rgb16')
      .png()
      .toBuffer();
    put(fileOf('spin', 4), resized);
    const movie = own.files.find((f) => f.kind === 'movie')!;
    const slower = path.join(packages.folder(), 'slower.mp4');
    const encoding = '-c:v libx264 -pix_fmt yuv420p -color_range tv -colorspace bt709 -color_primaries bt709 -color_trc bt709 -movflags +faststart';
    execFileSync(findFfmpeg(), ['-loglevel', 'error', '-r', '20', '-i', path.join(at, movie.path), ...encoding.split(' '), slower]);
    put(movie.path, readFileSync(slower));
    const doubled = own.files.find((f) => f.kind === 'render' && f.run.endsWith('stills'))!;
    own.files.push({ ...doubled, path: doubled.path.toUpperCase() });
    cpSync(path.join(at, doubled.path), path.join(at, doubled.path.toUpperCase()));
    writeFileSync(path.join(at, 'manifest.json'), JSON.stringify(own));
    const { status, result } = audit(at);
    expect(status).toBe(3);
    expect(result.faults).toContainEqual({ rule: 'size', file: fileOf('spin', 4), expected: '64 × 36', found: '62 × 36' });
    expect(result.faults).toContainEqual({ rule: 'rate', file: movie.path, expected: '25 frames a second', found: '20 frames a second' });
    expect(result.faults).toContainEqual(expect.objectContaining({ rule: 'name', file: doubled.path.toUpperCase() }));
  });

  it('has a contact sheet with real text, fonts of its own, and a page that a person can be sent', async () => {
    const pack = await packages.made(set, batch, { sheet: { paper: 'A3', across: true, columns: 4 } });
    expect(pack.sheets).toEqual(['contact-sheet.pdf']);
    const sheet = await call().get(`/api/packages/${pack.id}/sheets/contact-sheet.pdf`).buffer(true).expect(200);
    const pdf = await getDocument({ data: new Uint8Array(sheet.body as Buffer), useSystemFonts: false }).promise;
    expect(pdf.numPages).toBe(1);
    const page = await pdf.getPage(1);
    // A3 across in points: 420 and 297 mm.
    expect(page.view.slice(2).map((v) => Math.round((v * 25.4) / 72))).toEqual([420, 297]);
    const { items } = await page.getTextContent();
    const text = items.flatMap((i) => ('str' in i ? [i.str] : []));
    expect(text.join(' ')).toContain('1 / 1');
    expect(text.filter((t) => /spin · 000[1-6] · rev A/.test(t))).toHaveLength(6);
    const html = (await call().get(`/api/packages/${pack.id}/audit.html`).expect(200)).text;
    expect(html).toContain('All files are as planned and as asked.');
  });

  it('holds accepted renders alone, or what changed since the last one, where that is asked', async () => {
    const first = await packages.made(set, batch);
    const refused = await call()
      .post(`/api/sets/${set.id}/packages`)
      .send({ name: 'Accepted', renders: [{ batch: batch.id, run: 'spin' }], acceptedOnly: true });
    expect([refused.status, (refused.body as { detail: string }).detail]).toEqual([
      422,
      expect.stringContaining('None of these renders is accepted'),
    ]);
    const frames = await here.frames(batch.id);
    for (const f of frames.slice(0, 2))
      await call().put(`/api/batches/${batch.id}/frames/${f.id}/decision`).send({ decision: 'accepted' }).expect(200);
    const accepted = await packages.made(set, batch, {
      renders: [{ batch: batch.id, run: 'spin' }],
      acceptedOnly: true,
      plans: false,
      models: false,
      reports: false,
    });
    expect([accepted.state, accepted.files]).toEqual(['ready', 4]);
    // The stills alone change.
    await here.save(set, {
      ...packages.deliverable(),
      shots: packages.deliverable().shots.map((s) => (s.id === 'stills' ? { ...s, overrides: { size: { width: 80, height: 36 } } } : s)),
    } as SetFile);
    const again = await here.rendered(set);
    const changes = await packages.made(set, again, { onlyChanged: true, plans: false, models: false, reports: false });
    expect([changes.state, changes.files]).toEqual(['ready', 2]);
    expect(first.files).toBeGreaterThan(15);
  });

  it('with faults is not handed over until they are waived, and what was waived comes back where it changes', async () => {
    const asked = { name: 'Client', sizes: [{ width: 1920, height: 1080 }] };
    await here.save(set, { ...packages.deliverable(), delivery: asked });
    const pack = await packages.made(set, batch, { renders: [{ batch: batch.id, run: 'spin' }] });
    expect([pack.state, pack.faults.map((f) => [f.rule, f.found])]).toEqual(['faults', [['asked', '64 × 36']]]);
    await call().get(`/api/packages/${pack.id}/download`).expect(409);
    const { rule, file } = pack.faults[0]!;
    await call().post(`/api/packages/${pack.id}/waivers`).send({ rule, file: 'another', reason: 'x' }).expect(404);
    const waived = (await call().post(`/api/packages/${pack.id}/waivers`).send({ rule, file, reason: 'Preview only' }).expect(200))
      .body as PackageReply;
    expect([waived.state, waived.faults[0]!.waived]).toEqual(['ready', 'Preview only']);
    await call().get(`/api/packages/${pack.id}/download`).expect(200);
    // A file that is torn afterwards is found by the next audit; the waiver holds for what it was about.
    const at = here.server.running.context.store.package(pack.id);
    const manifest = JSON.parse(readFileSync(path.join(at, 'manifest.json'), 'utf8')) as Manifest;
    const victim = path.join(at, manifest.files[0]!.path);
    const bytes = readFileSync(victim);
    rmSync(victim);
    writeFileSync(victim, bytes.subarray(0, 300));
    await call().post(`/api/packages/${pack.id}/audit`).expect(202);
    const judged = await packages.ended(pack.id);
    expect(judged.state).toBe('faults');
    expect(judged.faults.map((f) => [f.rule, f.waived])).toEqual([
      ['checksum', undefined],
      ['torn', undefined],
      ['asked', 'Preview only'],
    ]);
    // The render itself is as it was: the package has a name of its own for it.
    expect((await here.batch(batch.id)).damaged).toBe(0);
    // A restored backup has the rows without the folders.
    rmSync(at, { recursive: true });
    const gone = await call().post(`/api/packages/${pack.id}/audit`);
    expect([gone.status, (gone.body as { detail: string }).detail]).toEqual([404, 'The files of package "Round two" are gone. Make it again.']);
    await call().delete(`/api/packages/${pack.id}`).expect(204);
    expect((await call().get(`/api/sets/${set.id}/packages`)).body).toEqual([]);
  });

  it('is refused where two renders would have one name, and made anew where the server ended', async () => {
    await here.save(set, { ...packages.deliverable(), grade: { ...packages.deliverable().grade, exposure: 1 } });
    const other = await here.rendered(set);
    const doubled = await call()
      .post(`/api/sets/${set.id}/packages`)
      .send({ name: 'Both', renders: [batch, other].map((b) => ({ batch: b.id, run: 'spin' })) });
    expect([doubled.status, (doubled.body as { detail: string }).detail]).toEqual([422, expect.stringMatching(/^Two files would be called "/)]);
    const pack = await packages.made(set, batch);
    const { context } = here.server.running;
    await context.database.sequelize.query(`UPDATE packages SET state = 'making' WHERE id = ${pack.id}`);
    const { Packages } = await import('../handover/packages.js');
    await new Packages(context).recover();
    await expect.poll(async () => (await packages.ended(pack.id)).state).toBe('ready');
  });

  it('is sent to a drop-off and into a folder, goes on after the other side was away, and is whole there', async () => {
    const pack = await packages.made(set, batch, { name: 'Sent' });
    const client = packages.folder();
    let stand = await startDropOff(client, 0);
    const send = (kind: string, target: string) => call().post(`/api/packages/${pack.id}/deliveries`).send({ kind, target });
    const delivered = (id: number): Promise<DeliveryReply> =>
      until(
        async () => ((await call().get(`/api/packages/${pack.id}/deliveries`)).body as DeliveryReply[]).find((d) => d.id === id)!,
        ({ state }) => state !== 'sending',
      );
    const port = Number(new URL(stand.url).port);
    const { url } = stand;
    await stand.close();
    const first = (await send('dropOff', url).expect(201)).body as DeliveryReply;
    expect(first).toMatchObject({ state: 'sending', total: expect.any(Number) as number });
    // It was away when the sending began.
    await new Promise((r) => setTimeout(r, 300));
    stand = await startDropOff(client, port);
    expect(await delivered(first.id)).toMatchObject({ state: 'done', done: first.total });
    expect(audit(path.join(client, 'Sent'))).toMatchObject({ status: 0, result: { ok: true, files: pack.files } });
    const place = packages.folder();
    const second = (await send('folder', place).expect(201)).body as DeliveryReply;
    expect((await delivered(second.id)).state).toBe('done');
    expect(audit(path.join(place, 'Sent')).status).toBe(0);
    const refusals: [string, string, number][] = [
      ['dropOff', 'http://example.test/up', 422],
      ['dropOff', 'ftp://localhost', 422],
      ['folder', 'relative/path', 422],
      ['post', 'x', 400],
    ];
    for (const [kind, target, status] of refusals) await send(kind, target).expect(status);
    await stand.close();
  });
});

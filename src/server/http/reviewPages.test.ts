/** Review pages: what whoever has the address may do, and nothing else; folders; and notes that come back from them. */
import { createHash } from 'node:crypto';
import request from 'supertest';
import sharp from 'sharp';
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { asBuffer } from '../../../tests/support/asBuffer.js';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import type { NoteReply } from '../../contract/notes.js';
import type { ImportedNotes, ReviewPageContent, ReviewPageReply } from '../../contract/reviewPages.js';
import { ReviewPage } from '../db/reviewModels.js';
import { ReviewPages } from '../results/reviewPages.js';

const here = new BatchesHere();
const call = () => here.server.call();
/** As somebody asks who has nothing but an address. */
const guest = () => request(here.server.running.url);
const dayIn = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);
const pin = (x: number, y: number) => ({ kind: 'pin', points: [[x, y]] });

/** A set with a rendered turntable, and a page that shows it. */
async function onePage(more: object = {}): Promise<{ set: number; batch: number; page: ReviewPageReply; base: string }> {
  const set = await here.addSet(here.file(3));
  const batch = await here.rendered(set);
  const made = await call()
    .post(`/api/sets/${set.id}/review-pages`)
    .send({ name: 'For the client', shown: [{ batch: batch.id, run: 'spin', label: 'rev A' }], ends: dayIn(7), ...more })
    .expect(201);
  const page = made.body as ReviewPageReply;
  return { set: set.id, batch: batch.id, page, base: `/api${page.path}` };
}
const contentOf = async (base: string): Promise<ReviewPageContent> => (await guest().get(base).expect(200)).body as ReviewPageContent;

describe('a review page', () => {
  it('shows its renders and takes notes, which the studio sees with where they were written', async () => {
    const { set, batch, page, base } = await onePage();
    expect(page).toMatchObject({ open: true, renders: 1, passphrase: false, opened: 0 });
    // 256 bits, so that nobody guesses it.
    expect(Buffer.from(page.path.split('/').at(-1)!, 'base64url')).toHaveLength(32);
    const content = await contentOf(base);
    expect(content.shots).toHaveLength(1);
    expect(content.shots[0]).toMatchObject({ batch, run: 'spin', label: 'rev A', moving: true });
    expect(content.shots[0]!.frames.map((f) => f.number)).toEqual([1, 2, 3]);
    const render = await guest().get(content.shots[0]!.frames[1]!.picture).expect(200);
    expect(await sharp(render.body as Buffer).metadata()).toMatchObject({ format: 'webp', width: 64, height: 36 });
    const frame = content.shots[0]!.frames[1]!.id;
    const note = { shape: pin(0.5, 0.5), text: 'Can this be darker?', author: 'Guest' };
    const nameless = await guest()
      .post(`${base}/frames/${frame}/notes`)
      .send({ ...note, author: ' ' });
    expect([nameless.status, (nameless.body as { detail: string }).detail]).toEqual([400, expect.stringContaining('Write your name')]);
    const made = (await guest().post(`${base}/frames/${frame}/notes`).send(note).expect(201)).body as NoteReply;
    await guest().post(`${base}/notes/${made.id}/answers`).send({ text: 'And warmer', author: 'Another' }).expect(201);
    const [seen] = (await call().get(`/api/sets/${set}/notes`)).body as NoteReply[];
    expect(seen).toMatchObject({
      text: 'Can this be darker?',
      author: 'Guest',
      via: 'For the client',
      answers: [{ text: 'And warmer', via: 'For the client' }],
    });
    expect((await contentOf(base)).notes.map((n) => n.id)).toEqual([made.id]);
    const [listed] = (await call().get(`/api/sets/${set}/review-pages`)).body as ReviewPageReply[];
    expect(listed!.opened).toBe(2);
  });

  it('opens nothing else: no other frame, no other note, no list', async () => {
    const { set, batch, base } = await onePage();
    const other = await here.rendered(await here.addSet(here.file(1)));
    const [foreign] = await here.frames(other.id);
    await guest().get(`${base}/frames/${foreign!.id}/render.webp`).expect(404);
    await guest()
      .post(`${base}/frames/${foreign!.id}/notes`)
      .send({ shape: pin(0.5, 0.5), text: 'x', author: 'G' })
      .expect(404);
    const note = (
      await call()
        .post(`/api/batches/${other.id}/frames/${foreign!.id}/notes`)
        .send({ shape: pin(0.5, 0.5), text: 'Ours', author: 'Studio' })
        .expect(201)
    ).body as NoteReply;
    await guest().post(`${base}/notes/${note.id}/answers`).send({ text: 'x', author: 'G' }).expect(404);
    for (const path of ['/notes', '/batches', `/sets/${set}`, `/batches/${batch}/frames`]) await guest().get(`${base}${path}`).expect(404);
    await guest().delete(`${base}/notes/${note.id}`).expect(404);
    await guest().get('/api/shared/').expect(404);
    await guest().get('/api/shared/nothing').expect(404);
  });

  it('asks for its passphrase, and lets those wait who guess', async () => {
    const { base, page } = await onePage({ passphrase: 'tern and landing' });
    expect(page.passphrase).toBe(true);
    for (const path of ['', '/frames/1/render.webp']) expect((await guest().get(`${base}${path}`)).status).toBe(401);
    expect((await guest().post(`${base}/session`).send({ passphrase: 'landing and tern' })).status).toBe(401);
    const unlocked = await guest().post(`${base}/session`).send({ passphrase: 'tern and landing' }).expect(204);
    const [cookie] = unlocked.headers['set-cookie'] as unknown as string[];
    expect(cookie).toMatch(/HttpOnly/);
    expect(cookie).toContain(`Path=${base}`);
    const own = cookie!.split(';')[0]!;
    await guest().get(base).set('Cookie', own).expect(200);
    await guest().get(base).set('Cookie', `${own}x`).expect(401);
    // The proof of one page opens no other.
    const { base: another } = await onePage({ passphrase: 'tern and landing' });
    await guest().get(another).set('Cookie', own).expect(401);
    const statuses: number[] = [];
    for (let i = 0; i < 7; i++)
      statuses.push(
        (
          await guest()
            .post(`${another}/session`)
            .send({ passphrase: `guess ${i}` })
        ).status,
      );
    expect(statuses.at(-1)).toBe(429);
    expect((await guest().post(`${another}/session`).send({ passphrase: 'tern and landing' })).status).toBe(429);
    const kept = (await ReviewPage.findByPk(page.id))!.passphrase!;
    expect(kept).toMatch(/^scrypt:/);
    expect(kept).not.toContain('tern');
  });

  it('is over after its last day and once it is revoked, in the same words as one that never was', async () => {
    const { set, page, base } = await onePage({ ends: dayIn(0) });
    const secret = page.path.split('/').at(-1)!;
    const at = (days: number) => new ReviewPages(here.server.running.context, () => Date.parse(`${dayIn(0)}T00:00:00Z`) + days * 86_400_000);
    await expect(at(0.99).open(secret, undefined)).resolves.toMatchObject({ id: page.id });
    await expect(at(1).open(secret, undefined)).rejects.toThrow('There is no review page at this address');
    await call().delete(`/api/review-pages/${page.id}`).expect(204);
    const [gone, never] = [await guest().get(base), await guest().get('/api/shared/never')];
    expect([gone.status, (gone.body as { detail: string }).detail]).toEqual([404, (never.body as { detail: string }).detail]);
    expect((await call().get(`/api/sets/${set}/review-pages`)).body).toEqual([]);
    await call().delete(`/api/review-pages/${page.id}`).expect(404);
  });

  it('is refused where it cannot be made, with the reason', async () => {
    const set = await here.addSet(here.file(1));
    const batch = await here.rendered(set);
    const wrong: [object, string][] = [
      [{ ends: dayIn(-1) }, 'is over'],
      [{ ends: dayIn(400) }, 'more than 366 days away'],
      [{ ends: '2026-02-30' }, 'YYYY-MM-DD'],
      [{ passphrase: 'short' }, 'at least 8'],
      [{ shown: [] }, 'at least one render'],
      [{ name: ' ' }, 'name'],
    ];
    for (const [values, said] of wrong) {
      const asked = { name: 'Page', shown: [{ batch: batch.id, run: 'spin' }], ends: dayIn(1), ...values };
      const reply = await call().post(`/api/sets/${set.id}/review-pages`).send(asked);
      expect([reply.status, (reply.body as { detail: string }).detail]).toEqual([400, expect.stringContaining(said)]);
    }
  });
});

describe('a review folder', () => {
  it('holds the page and its renders, with no address of a server in it', async () => {
    const set = await here.addSet({ ...here.file(2), name: 'Set </script><b>' });
    const batch = await here.rendered(set);
    const reply = await call()
      .post(`/api/sets/${set.id}/review-folder`)
      .send({ name: 'Tern, week 3', shown: [{ batch: batch.id, run: 'spin' }] })
      .buffer(true)
      .parse(asBuffer)
      .expect(200);
    const files = new Map(Object.entries(unzipSync(reply.body as Buffer)));
    const html = Buffer.from(files.get('index.html')!).toString();
    expect(html).toContain('<script src="page.js" defer>');
    expect(html).not.toContain('/review-page/');
    expect(html).not.toContain('</script><b>');
    const [, data] = /window\.REVIEW_PAGE = (.*);<\/script>/.exec(html)!;
    const content = JSON.parse(data!) as ReviewPageContent;
    expect(content).toMatchObject({ name: 'Tern, week 3', ends: null, set: 'Set </script><b>' });
    for (const { picture } of content.shots[0]!.frames) expect((await sharp(files.get(picture)!).metadata()).width).toBe(64);
    expect(files.has(content.shots[0]!.frames[0]!.small)).toBe(true);
    expect([...files.keys()].filter((f) => /^(page\.(js|css)|.*\.woff2)$/.test(f)).length).toBeGreaterThanOrEqual(3);
  });
});

describe('notes that come back as a file', () => {
  it('come in once each, also on an equal frame of a later batch, and say which found nothing', async () => {
    const set = await here.addSet(here.file(2));
    const batch = await here.rendered(set);
    const [frame] = await here.frames(batch.id);
    const { identity } = (await call().get(`/api/batches/${batch.id}/report`)).body.frames[0] as { identity: string };
    const note = { shape: pin(0.4, 0.6), text: 'From disk', author: 'Guest', time: '2026-11-30T08:00:00.000Z' };
    const file = {
      format: 'cold-easel-notes',
      version: 1,
      page: 'Week 3',
      notes: [
        { key: 'note-key-1', identity, frame: frame!.id, ...note },
        { key: 'note-key-2', identity: createHash('sha256').update('none').digest('hex'), frame: 999_999, ...note },
      ],
      answers: [{ key: 'answer-key-1', to: 'note-key-1', text: 'Seconded', author: 'Other', time: note.time }],
    };
    const send = async (body: object) => (await call().post(`/api/sets/${set.id}/notes/import`).send(body)).body as ImportedNotes;
    expect(await send(file)).toEqual({ added: 2, known: 0, lost: 1 });
    expect(await send(file)).toEqual({ added: 0, known: 2, lost: 1 });
    const notes = (await call().get(`/api/sets/${set.id}/notes`)).body as NoteReply[];
    expect(notes).toHaveLength(1);
    expect(notes[0]).toMatchObject({ frame: frame!.id, text: 'From disk', via: 'Week 3', time: note.time, answers: [{ text: 'Seconded' }] });
    // The id is of another installation: the frame is found by what it shows.
    expect(await send({ ...file, notes: [{ ...file.notes[0], key: 'note-key-3', frame: 888_888 }], answers: [] })).toEqual({
      added: 1,
      known: 0,
      lost: 0,
    });
    const wrong = await call()
      .post(`/api/sets/${set.id}/notes/import`)
      .send({ ...file, format: 'other' });
    expect([wrong.status, (wrong.body as { detail: string }).detail]).toEqual([400, expect.stringContaining('no file of notes')]);
    const lost = await call()
      .post(`/api/sets/${set.id}/notes/import`)
      .send({ ...file, notes: [file.notes[1]], answers: [] });
    expect([lost.status, (lost.body as { detail: string }).detail]).toEqual([422, expect.stringContaining('belongs to a render of this set')]);
  });
});

/** Who may in, where others can reach the server and where nobody can. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { networkInterfaces, tmpdir } from 'node:os';
import path from 'node:path';
import request from 'supertest';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import type { NewTokenReply, SessionReply } from '../../contract/access.js';
import type { BatchReply } from '../../contract/batches.js';
import type { ProjectReply } from '../../contract/contract.js';
import { DATABASE_FILE } from '../db/connection.js';
import { setPassphrase } from '../maintenance/passphrase.js';
import { addressOf, type RunningServer, startServer } from '../start.js';
import { checkPassphrase, hashPassphrase } from './secrets.js';
import { SignInDelay } from './signInDelay.js';

const PASSPHRASE = 'cold north light 42';
const folders: string[] = [];
const folder = (): string => {
  folders.push(mkdtempSync(path.join(tmpdir(), 'easel-access-')));
  return folders.at(-1)!;
};
afterAll(() => folders.forEach((f) => rmSync(f, { recursive: true, force: true })));
const quiet = { warm: false, port: 0, workers: 1, logLevel: 'silent', reserveBytes: 0 };

describe('passphrases', () => {
  it('are kept by scrypt with a salt of their own, and compared by it', async () => {
    const [one, two] = [await hashPassphrase(PASSPHRASE), await hashPassphrase(PASSPHRASE)];
    expect(one).toMatch(/^scrypt:32768:8:1:/);
    expect(one).not.toBe(two);
    expect(await checkPassphrase(PASSPHRASE, one)).toBe(true);
    expect(await checkPassphrase(`${PASSPHRASE} `, one)).toBe(false);
    // The same letters, composed and decomposed.
    expect(await checkPassphrase('caf\u0065\u0301 north light', await hashPassphrase('caf\u00e9 north light'))).toBe(true);
  });
});

describe('delays after wrong passphrases', () => {
  it('grow by address, end with a right one, and forget after a day', () => {
    const delay = new SignInDelay();
    const seconds: number[] = [];
    for (let i = 0; i < 16; i++) {
      seconds.push(delay.secondsFor('10.0.0.1', 0));
      delay.failed('10.0.0.1', 0);
    }
    expect(seconds.slice(0, 7)).toEqual([0, 0, 0, 0, 2, 4, 8]);
    expect(Math.max(...seconds)).toBe(900);
    expect(delay.secondsFor('10.0.0.2', 0)).toBe(0);
    expect(delay.secondsFor('10.0.0.1', 600_000)).toBe(300);
    // A clock that was set back.
    expect(delay.secondsFor('10.0.0.1', -9e9)).toBe(900);
    delay.failed('10.0.0.1', 25 * 3_600_000);
    expect(delay.secondsFor('10.0.0.1', 25 * 3_600_000)).toBe(0);
    delay.succeeded('10.0.0.1');
  });

  it('hold no more than so many addresses', () => {
    const delay = new SignInDelay();
    for (let i = 0; i < 12_000; i++) delay.failed(`a${i}`, 0);
    expect((delay as unknown as { byAddress: Map<string, unknown> }).byAddress.size).toBe(10_000);
  });
});

describe('a server that others can reach', () => {
  let server: RunningServer;
  const data = folder();
  beforeAll(async () => {
    server = await startServer({ ...quiet, data, address: '0.0.0.0', hosts: ['studio.test'], passphrase: PASSPHRASE });
  });
  afterAll(() => server.close());
  const port = (): string => new URL(server.url).port;
  /** As another machine asks: with whatever Host header it likes. */
  const call = (method: 'get' | 'post' | 'put' | 'delete', route: string) => request(`http://127.0.0.1:${port()}`)[method](route);
  async function signIn(): Promise<{ cookie: string; csrf: string }> {
    const reply = await call('post', '/api/session').send({ passphrase: PASSPHRASE });
    const [set] = reply.headers['set-cookie'] as unknown as string[];
    const cookie = set!.split(';')[0]!;
    const session = (await call('get', '/api/session').set('Cookie', cookie)).body as SessionReply;
    return { cookie, csrf: session.csrf! };
  }

  it.each(['/api/projects', '/api/batches', '/api/events', '/api/kernel.wasm', '/api/tokens', '/api/audit', '/api/presets', '/api/nothing'])(
    'tells nobody anything at %s before they sign in, whatever name they ask by',
    async (route) => {
      for (const host of ['localhost', 'studio.test', '127.0.0.1']) {
        const reply = await call('get', route).set('Host', host);
        expect([reply.status, (reply.body as { code: string }).code]).toEqual([401, 'signed-out']);
        expect(reply.headers['content-security-policy']).not.toContain('unsafe-inline');
      }
    },
  );

  it('lets whoever has the address of a review page reach that, and says no more of one that is not there', async () => {
    const reply = await call('get', '/api/shared/nothing');
    expect([reply.status, (reply.body as { code: string }).code]).toEqual([404, 'not-found']);
    expect((await call('get', '/shared/nothing')).text).toContain('/review-page/page.js');
    expect((await call('get', '/review-page/page.js')).status).toBe(200);
    // What lies beside it stays closed.
    expect((await call('get', '/api/sets/1/review-pages')).status).toBe(401);
  });

  it('says that it is there, and no more', async () => {
    expect((await call('get', '/api/health')).body).toEqual({ ok: true });
    expect((await call('get', '/api/session')).body).toEqual({ required: true, signedIn: false, exposed: true });
  });

  it('keeps the passphrase in no file', async () => {
    const bytes = readFileSync(path.join(data, DATABASE_FILE)).toString('latin1');
    expect(bytes).not.toContain(PASSPHRASE);
    expect(bytes).not.toContain(Buffer.from(PASSPHRASE).toString('base64'));
  });

  it('lets in with the passphrase, by a cookie that no script and no other site can use', async () => {
    const wrong = await call('post', '/api/session').send({ passphrase: 'another passphrase' });
    expect([wrong.status, (wrong.body as { detail: string }).detail]).toEqual([401, 'The passphrase is wrong.']);
    const reply = await call('post', '/api/session').send({ passphrase: PASSPHRASE });
    const [set] = reply.headers['set-cookie'] as unknown as string[];
    expect(set).toMatch(/HttpOnly/);
    expect(set).toMatch(/SameSite=Strict/);
    const { cookie } = await signIn();
    expect((await call('get', '/api/projects').set('Cookie', cookie)).status).toBe(200);
    expect((await call('get', '/api/projects').set('Cookie', `${cookie}x`)).status).toBe(401);
  });

  it('changes nothing without the token of the page', async () => {
    const { cookie, csrf } = await signIn();
    const create = (token?: string) => {
      const asked = call('post', '/api/projects').set('Cookie', cookie);
      return (token === undefined ? asked : asked.set('x-csrf-token', token)).send({ name: 'Mine' });
    };
    expect((await create()).status).toBe(403);
    expect((await create('wrong')).status).toBe(403);
    const made = await create(csrf);
    expect(made.status).toBe(201);
    // Paths of the machine are none of a guest's business.
    const batches = (await call('get', '/api/batches').set('Cookie', cookie)).body as BatchReply[];
    expect(batches.every((b) => !b.folder.startsWith('/'))).toBe(true);
  });

  it('makes those wait who guess', async () => {
    const statuses: number[] = [];
    let last = await call('get', '/api/health');
    for (let i = 0; i < 8 && last.status !== 429; i++) {
      last = await call('post', '/api/session').send({ passphrase: `guess number ${i}` });
      statuses.push(last.status);
    }
    expect(last.status).toBe(429);
    expect(Number(last.headers['retry-after'])).toBeGreaterThanOrEqual(1);
    // The right one waits too, or guessing would go on beside it.
    expect((await call('post', '/api/session').send({ passphrase: PASSPHRASE })).status).toBe(429);
    expect(statuses.filter((s) => s === 401).length).toBeGreaterThanOrEqual(2);
    await new Promise((r) => setTimeout(r, 2200));
  });

  it('gives programs tokens by role, which can be revoked', async () => {
    const { cookie, csrf } = await signIn();
    const owner = (method: 'get' | 'post' | 'delete', route: string) => call(method, route).set('Cookie', cookie).set('x-csrf-token', csrf);
    const token = async (role: string): Promise<NewTokenReply> =>
      (await owner('post', '/api/tokens').send({ name: `the ${role}`, role })).body as NewTokenReply;
    const [edit, review, worker] = [await token('edit'), await token('review'), await token('worker')];
    const status = async (t: NewTokenReply, method: 'get' | 'post' | 'delete', route: string, body?: object): Promise<number> =>
      (await call(method, route).set('Authorization', `Bearer ${t.secret}`).send(body)).status;
    const table: [string, NewTokenReply, 'get' | 'post' | 'delete', string, number][] = [
      ['edit reads', edit, 'get', '/api/projects', 200],
      ['edit writes', edit, 'post', '/api/projects', 201],
      ['edit manages no access', edit, 'get', '/api/tokens', 403],
      ['review reads', review, 'get', '/api/projects', 200],
      ['review writes nothing', review, 'post', '/api/projects', 403],
      ['review sees no log', review, 'get', '/api/audit', 403],
      ['worker reads the kernel', worker, 'get', '/api/kernel.wasm', 200],
      ['worker reads no projects', worker, 'get', '/api/projects', 403],
      ['worker writes nothing', worker, 'post', '/api/projects', 403],
    ];
    for (const [what, t, method, route, expected] of table)
      expect([what, await status(t, method, route, method === 'post' ? { name: 'By a program' } : undefined)]).toEqual([what, expected]);
    expect((await owner('post', '/api/tokens').send({ name: 'the edit', role: 'edit' })).status).toBe(409);
    await owner('delete', `/api/tokens/${edit.id}`);
    expect(await status(edit, 'get', '/api/projects')).toBe(401);
    expect((await owner('delete', `/api/tokens/${edit.id}`)).status).toBe(404);
    const text = readFileSync(path.join(data, DATABASE_FILE)).toString('latin1');
    for (const t of [edit, review, worker]) expect(text).not.toContain(t.secret);
    const log = (await owner('get', '/api/audit')).body as { what: string; detail: string }[];
    expect(log.slice(0, 4).map((l) => `${l.what}: ${l.detail}`)).toEqual([
      'token revoked: the edit',
      'token created: the worker, worker',
      'token created: the review, review',
      'token created: the edit, edit',
    ]);
    expect(log.map((l) => l.what)).toContain('sign-in refused');
  });

  it('signs everybody out at once', async () => {
    const [one, two] = [await signIn(), await signIn()];
    const reply = await call('delete', '/api/sessions').set('Cookie', one.cookie).set('x-csrf-token', one.csrf);
    expect((reply.body as { count: number }).count).toBeGreaterThanOrEqual(2);
    for (const { cookie } of [one, two]) expect((await call('get', '/api/projects').set('Cookie', cookie)).status).toBe(401);
  });

  it('prints an address that works', async () => {
    const outside = Object.values(networkInterfaces())
      .flatMap((l) => l ?? [])
      .find((a) => !a.internal && a.family === 'IPv4');
    expect(new URL(server.url).hostname).toBe(outside?.address ?? 'localhost');
    expect((await fetch(`${server.url}/api/health`)).status).toBe(200);
    expect(addressOf('::1', 80)).toBe('http://localhost:80');
    expect(addressOf('192.0.2.7', 4870)).toBe('http://192.0.2.7:4870');
    expect(addressOf('2001:db8::1', 4870)).toBe('http://[2001:db8::1]:4870');
  });
});

describe('a start', () => {
  it('on an address that others can reach needs a passphrase, and says how to set one', async () => {
    await expect(startServer({ ...quiet, data: folder(), address: '0.0.0.0' })).rejects.toThrow(
      /no passphrase is set\. Set one with "npm run easel -- passphrase" or in COLD_EASEL_PASSPHRASE, or listen on 127\.0\.0\.1 alone/,
    );
  });

  it('behind a proxy needs one too', async () => {
    await expect(startServer({ ...quiet, data: folder(), trustProxy: true })).rejects.toThrow('no passphrase is set');
  });

  it('refuses one that is too easy', async () => {
    await expect(startServer({ ...quiet, data: folder(), address: '0.0.0.0', passphrase: 'aaaaaaaaaaaaaaaa' })).rejects.toThrow(
      'five different characters',
    );
  });
});

describe('a server of this machine alone', () => {
  let server: RunningServer | null = null;
  afterEach(async () => {
    await server?.close();
    server = null;
  });

  it('asks nobody, until a passphrase is set from the command line', async () => {
    const data = folder();
    server = await startServer({ ...quiet, data });
    expect((await request(server.url).get('/api/session')).body).toEqual({
      required: false,
      signedIn: true,
      kind: 'local',
      role: 'owner',
      exposed: false,
    });
    expect((await request(server.url).post('/api/session').send({ passphrase: 'anything at all' })).status).toBe(409);
    await server.close();
    await setPassphrase(data, PASSPHRASE);
    server = await startServer({ ...quiet, data });
    expect((await request(server.url).get('/api/projects')).status).toBe(401);
    const reply = await request(server.url).post('/api/session').send({ passphrase: PASSPHRASE });
    const cookie = (reply.headers['set-cookie'] as unknown as string[])[0]!.split(';')[0]!;
    // A session outlives the server.
    await server.close();
    server = await startServer({ ...quiet, data });
    expect((await request(server.url).get('/api/projects').set('Cookie', cookie)).body as ProjectReply[]).toEqual([]);
  });

  it.each([
    ['cross-site', 403],
    ['same-site', 403],
    ['same-origin', 200],
    ['none', 200],
  ])('answers a %s request for reading with %i', async (site, status) => {
    server = await startServer({ ...quiet, data: folder() });
    const reply = await request(server.url).get('/api/projects').set('Sec-Fetch-Site', site);
    expect(reply.status).toBe(status);
    // Whatever is answered has the headers.
    expect(reply.headers['x-content-type-options']).toBe('nosniff');
    expect(reply.headers['cross-origin-embedder-policy']).toBe('require-corp');
  });

  it('refuses foreign names with the headers that every answer has', async () => {
    server = await startServer({ ...quiet, data: folder() });
    const reply = await request(server.url).get('/').set('Host', 'evil.example');
    expect([reply.status, reply.headers['x-content-type-options']]).toEqual([403, 'nosniff']);
    expect(reply.headers['content-security-policy']).toContain("style-src 'self'");
  });

  it('marks each page anew for the styles that its scripts make', async () => {
    server = await startServer({ ...quiet, data: folder() });
    const nonces = new Set<string>();
    for (let i = 0; i < 2; i++) {
      const { headers, text } = await request(server.url).get('/');
      const nonce = /name="style-nonce" content="([^"]+)"/.exec(text)![1]!;
      expect(headers['content-security-policy']).toContain(`style-src 'self' 'nonce-${nonce}'`);
      expect(headers['content-security-policy']).not.toContain('unsafe-inline');
      nonces.add(nonce);
    }
    expect(nonces.size).toBe(2);
  });
});

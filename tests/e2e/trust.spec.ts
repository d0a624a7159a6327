/** What people see when it matters: many tabs, a server that goes and comes back, a passphrase, a backup. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, truncateSync } from 'node:fs';
import { networkInterfaces, tmpdir } from 'node:os';
import path from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '../support/browserTest.js';
import type { BatchReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { changeSet, fill, plannedTern } from '../support/page.js';
import { TestServer } from '../support/server.js';

const PASSPHRASE = 'cold north light 42';
const server = new TestServer();
let project: ProjectReply;

/** A project with a turntable of so many small frames. */
async function planned(server: TestServer, name: string, frames: number): Promise<ProjectReply> {
  const made = await plannedTern(server, name, [{ id: 'turn', name: 'Turn', kind: 'turntable', view: 'view', frames }], {
    size: { width: 96, height: 54 },
    quality: { samples: 2 },
  });
  await changeSet(server, made.sets[0]!.id, (file) => ({ ...file, name: 'Trusted' }));
  return made;
}

/** Gives a project a set of a version that is not known yet, as the database has it; its server has ended. @returns its id. */
function spoil(data: string, id: number): string {
  const spoilt = spawnSync(
    process.execPath,
    [
      '-e',
      `const s=require('sqlite3');const d=new s.Database(process.argv[1]);d.run("INSERT INTO sets (projectId, version, file) VALUES (?, 1, ?)",[process.argv[2],JSON.stringify({format:'cold-easel.set',version:99,name:'From tomorrow'})],function(e){if(e)throw e;process.stdout.write(String(this.lastID));d.close()})`,
      path.join(data, 'cold-easel.sqlite'),
      String(id),
    ],
    { encoding: 'utf8' },
  );
  expect(spoilt.stderr).toBe('');
  return spoilt.stdout;
}

test.beforeAll(() => server.start());
test.afterAll(() => server.end());

const base = (): string => `${server.url}/p/${project.id}/s/${project.sets[0]!.id}`;
const start = (): Promise<BatchReply> =>
  server.send<BatchReply>('POST', `/sets/${project.sets[0]!.id}/batches`, { revision: project.revisions[0]!.id });

/** What a page's console says that it must not: refused styles, scripts or requests. */
function complaints(page: Page): string[] {
  const said: string[] = [];
  page.on('console', (m) => m.type() === 'error' && /Content Security Policy|Refused to/.test(m.text()) && said.push(m.text()));
  page.on('pageerror', (e) => said.push(e.message));
  return said;
}

test('eight tabs of one browser follow a batch, and another page opens beside them', { tag: '@long' }, async ({ context }) => {
  test.slow();
  const pages: Page[] = [];
  project = await planned(server, 'Tabs', 60);
  for (let i = 0; i < 8; i++) {
    const page = await context.newPage();
    await page.goto(`${base()}/batch`);
    pages.push(page);
  }
  const { number } = await start();
  for (const page of pages) await expect(page.getByRole('heading', { name: `Batch ${number}` })).toBeVisible();
  for (const page of pages) await expect(page.getByTestId('figures')).toContainText('60 of 60', { timeout: 120_000 });
  // A ninth is not kept waiting for a connection.
  const ninth = await context.newPage();
  const said = complaints(ninth);
  await ninth.goto(server.url);
  await expect(ninth.getByRole('link', { name: /Tabs/ })).toBeVisible();
  expect(said).toEqual([]);
});

test('a server that goes is told, and what is edited meanwhile is saved when it is back', async ({ page }) => {
  project = await planned(server, 'Away', 60);
  await page.goto(`${base()}/shots`);
  await page.getByText('Turn', { exact: true }).first().click();
  await expect(page.getByLabel('Frames', { exact: true }).first()).toHaveValue('60');
  await server.kill();
  await expect(page.getByTestId('connection-banner')).toBeVisible();
  await fill(page, 'Frames', '24');
  await expect(page.getByLabel('Frames', { exact: true }).first()).toHaveValue('24');
  await server.start();
  await expect(page.getByTestId('connection-banner')).toBeHidden();
  await expect
    .poll(async () => {
      const { file } = await server.get<SetReply>(`/sets/${project.sets[0]!.id}`);
      const [shot] = file.shots;
      return shot?.kind === 'turntable' && shot.frames;
    })
    .toBe(24);
  await page.reload();
  await page.getByText('Turn', { exact: true }).first().click();
  await expect(page.getByLabel('Frames', { exact: true }).first()).toHaveValue('24');
});

test('finished frames that lost their files are pointed out, and rendered again', { tag: '@long' }, async ({ page }) => {
  project = await planned(server, 'Damaged', 24);
  const { id } = await start();
  const batch = async (): Promise<BatchReply> => server.get<BatchReply>(`/batches/${id}`);
  await expect.poll(async () => (await batch()).state, { timeout: 60_000 }).toBe('done');
  const { folder } = await batch();
  const pictures = path.join(folder, 'Trusted', 'Turn');
  const [first, second] = readdirSync(pictures).sort() as [string, string];
  rmSync(path.join(pictures, first));
  truncateSync(path.join(pictures, second), 20);
  await page.goto(`${base()}/batch?batch=${id}`);
  await page.getByRole('button', { name: 'Check files' }).click();
  await expect(page.getByText('24 files checked: 1 missing, 1 changed.')).toBeVisible();
  await expect(page.getByRole('alert').filter({ hasText: '2 finished frames have lost a file' })).toBeVisible();
  await expect(page.locator('[data-state="missing"]')).toHaveCount(1);
  await page.getByRole('button', { name: 'Render damaged frames' }).click();
  await expect(page.getByText('have lost a file')).toBeHidden({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Check files' }).click();
  await expect(page.getByText('24 files checked: all intact.')).toBeVisible();
});

test('a set that cannot be read is marked, says why, and harms no other', { tag: '@long' }, async ({ page }) => {
  project = await planned(server, 'Spoilt', 2);
  await server.kill();
  spoil(server.data, project.id);
  await server.start();
  await page.goto(server.url);
  await expect(page.getByText('The set “From tomorrow” cannot be read.')).toBeVisible();
  const { sets } = await server.get<ProjectReply>(`/projects/${project.id}`);
  await page.goto(`${server.url}/p/${project.id}/s/${sets.at(-1)!.id}/shots`);
  await expect(page.getByText('This set cannot be read.', { exact: true })).toBeVisible();
  await expect(page.getByText('is of version 99')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export as it is' }).click();
  expect((await download).suggestedFilename()).toMatch(/\.set\.json$/);
  await page.goto(`${base()}/shots`);
  await expect(page.getByText('Turn', { exact: true }).first()).toBeVisible();
});

test('a backup is restored into an empty folder, and everything is there', { tag: '@long' }, async ({ page }) => {
  const own = new TestServer();
  await own.start();
  const kept = await planned(own, 'Kept', 2);
  const set = kept.sets[0]!.id;
  const { id } = await own.send<BatchReply>('POST', `/sets/${set}/batches`, { revision: kept.revisions[0]!.id });
  await expect.poll(async () => (await own.get<BatchReply>(`/batches/${id}`)).state, { timeout: 60_000 }).toBe('done');
  await own.kill();
  const spoilt = spoil(own.data, kept.id);
  await own.start();
  const folder = mkdtempSync(path.join(tmpdir(), 'easel-restored-'));
  const file = path.join(folder, 'studio.tar');
  const easel = (...args: string[]) => spawnSync(process.execPath, ['bin/easel.mjs', ...args], { encoding: 'utf8' });
  const made = easel('backup', file, '--data', own.data, '--json');
  expect([made.status, JSON.parse(made.stdout)]).toEqual([0, expect.objectContaining({ file, missing: [] })]);
  const again = easel('backup', file, '--data', own.data);
  expect([again.status, again.stderr]).toEqual([2, expect.stringContaining('is not overwritten')]);
  const data = path.join(folder, 'data');
  expect(easel('restore', file, '--data', data).status).toBe(0);
  // The set of tomorrow is a fault, and its exit code says so.
  const checked = easel('check', '--data', data, '--json');
  expect([checked.status, (JSON.parse(checked.stdout) as { faults: unknown[] }).faults]).toEqual([
    3,
    [expect.objectContaining({ what: `set ${spoilt}` })],
  ]);
  const busy = easel('restore', file, '--data', own.data);
  expect([busy.status, busy.stderr]).toEqual([2, expect.stringContaining('is in use by process')]);
  const restored = new TestServer(0, { COLD_EASEL_DATA: data });
  await restored.start();
  await page.goto(`${restored.url}/p/${kept.id}/s/${set}/review`);
  await expect(page.getByTestId('easel-picture')).toBeVisible();
  await expect.poll(() => page.getByTestId('easel-picture').evaluate((i: HTMLImageElement) => i.naturalWidth)).toBe(96);
  await page.goto(`${restored.url}/p/${kept.id}/s/${set}/shots`);
  await expect(page.getByText('Turn', { exact: true }).first()).toBeVisible();
  await restored.end();
  await own.end();
  rmSync(folder, { recursive: true, force: true });
});

test(
  'on an address that others can reach, people sign in, programs have tokens, and everybody can be signed out',
  { tag: '@long' },
  async ({ browser }) => {
    const outside = Object.values(networkInterfaces())
      .flatMap((l) => l ?? [])
      .find((a) => !a.internal && a.family === 'IPv4');
    const open = new TestServer(0, { COLD_EASEL_ADDRESS: '0.0.0.0', COLD_EASEL_PASSPHRASE: PASSPHRASE });
    await open.start();
    expect(new URL(open.url).hostname).toBe(outside?.address ?? 'localhost');
    const context = await browser.newContext();
    const page = await context.newPage();
    const said = complaints(page);
    await page.goto(open.url);
    await page.getByLabel('Passphrase').fill('not the passphrase');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByRole('alert')).toHaveText('The passphrase is wrong.');
    expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
    await page.getByLabel('Passphrase').fill(PASSPHRASE);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { name: 'Projects' })).toBeVisible();
    await page.getByLabel('New project').fill('Behind the door');
    await page.getByRole('button', { name: 'Create' }).click();
    await expect(page.getByText('Behind the door')).toBeVisible();
    await page.goto(`${open.url}/access`);
    await page.getByLabel('Name').fill('night script');
    await page.getByRole('button', { name: 'Create token' }).click();
    const secret = await page.getByTestId('new-token').textContent();
    const asProgram = (): Promise<Response> => fetch(`${open.url}/api/projects`, { headers: { authorization: `Bearer ${secret}` } });
    expect((await asProgram()).status).toBe(200);
    await page.reload();
    await expect(page.getByRole('cell', { name: 'night script' })).toBeVisible();
    await expect(page.getByText(secret!)).toBeHidden();
    expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
    await page.getByRole('button', { name: 'Revoke' }).click();
    await expect(page.getByText('No tokens yet.')).toBeVisible();
    expect((await asProgram()).status).toBe(401);
    await page.getByRole('button', { name: 'Sign out everywhere' }).click();
    await expect(page.getByLabel('Passphrase')).toBeVisible();
    expect((await fetch(`${open.url}/api/projects`)).status).toBe(401);
    expect(said).toEqual([]);
    await context.close();
    await open.end();
  },
);

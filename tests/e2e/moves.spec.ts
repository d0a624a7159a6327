/** A walkthrough and a section reveal are planned by their instruments, and the shots of a set put in order. */
import { LAMP_SHOTS } from '../../demo/sets.js';
import { tern } from '../../demo/tern.js';
import { expect, test } from '../support/browserTest.js';
import type { BatchReply, FrameReply } from '../../src/contract/batches.js';
import type { ProjectReply, SetReply } from '../../src/contract/contract.js';
import { modelBounds } from '../../src/core/model/model.js';
import { parseSet } from '../../src/core/plan/set.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import type { Shot } from '../../src/core/shots/kinds.js';
import { exportPlanGlb } from '../../src/engine/output/planGlb.js';
import { writeGlb } from '../../src/formats/glb/write.js';
import { choose, fill, keepSheetOpen, plannedTern } from '../support/page.js';
import { sharedServer as server } from '../support/sharedServer.js';

let project: ProjectReply;

test.beforeAll(() => server.start());
test.afterAll(() => server.end());
test.beforeEach(({ page }) => keepSheetOpen(page));

const SMALL = { size: { width: 96, height: 54 } };
/** 10 frames at 24 a second. */
const WALK = {
  id: 'walkthrough',
  name: 'Walkthrough',
  kind: 'walkthrough',
  stations: [{ eye: [1, 0.5, 1] }, { eye: [0.6, 0.5, 1.2], seconds: 0.2 }, { eye: [0, 0.5, 1.5], seconds: 0.2 }],
  look: 'target',
  target: [0, 0.2, 0],
};
/** 12 frames. */
const REVEAL = {
  id: 'reveal',
  name: 'Section reveal',
  kind: 'sectionReveal',
  view: 'view',
  stations: [{ height: 0.1 }, { height: 0.5, seconds: 0.5 }],
};

const base = (): string => `${server.url}/p/${project.id}/s/${project.sets[0]!.id}`;
const file = async (): Promise<SetReply['file']> => (await server.get<SetReply>(`/sets/${project.sets[0]!.id}`)).file;
const shot = async <K extends Shot['kind']>(kind: K): Promise<Extract<Shot, { kind: K }>> =>
  (await file()).shots.find((s): s is Extract<Shot, { kind: K }> => s.kind === kind)!;

test('a walk is planned by stations on the plan, its times and where it looks', async ({ page }) => {
  project = await plannedTern(server, 'Walk');
  await page.goto(`${base()}/shots`);
  await fill(page, 'Width', '96');
  await page.getByRole('button', { name: 'Walkthrough', exact: true }).first().click();
  await expect(page.getByRole('slider', { name: /^Station \d$/ })).toHaveCount(2);
  await page.getByRole('button', { name: 'Add station' }).click();
  await expect(page.getByRole('slider', { name: /^Station \d$/ })).toHaveCount(3);
  await expect.poll(async () => (await file()).shots[0]).toMatchObject({ stations: [{}, {}, {}] });
  const before = (await shot('walkthrough')).stations[1]!.eye!;
  const station = page.getByRole('slider', { name: 'Station 2' });
  const box = (await station.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 25, box.y + box.height / 2 + 10, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await shot('walkthrough')).stations[1]!.eye![0]).toBeGreaterThan(before[0] + 0.01);
  await station.focus();
  await page.keyboard.press('ArrowLeft');
  await fill(page, 'Time', '1 s', 1);
  await fill(page, 'Time', '2 s', 2);
  await fill(page, 'Hold', '0.5', 2);
  // 3.5 s at 24 frames a second.
  await expect(page.getByText('1 shot · 84 frames', { exact: false })).toBeVisible();
  await choose(page, 'Look', 'At a point');
  await fill(page, 'Point y', '0.3');
  await expect.poll(async () => (await shot('walkthrough')).target?.[1]).toBe(0.3);
  // A station in the middle of the lamp's stem has no room, and is moved out of it.
  await page.getByRole('slider', { name: 'Station 2' }).focus();
  const set = await server.get<SetReply>(`/sets/${project.sets[0]!.id}`);
  const [x, z] = [-0.02, -0.02];
  const stations = (await shot('walkthrough')).stations.map((s, i) => (i === 1 ? { ...s, eye: [x, 0.03, z] } : s));
  await server.send('PUT', `/sets/${project.sets[0]!.id}`, {
    file: { ...set.file, shots: [{ ...set.file.shots[0]!, stations }] },
    version: set.version,
  });
  await page.reload();
  await expect(page.getByText(/comes within 0\.\d+ m of an obstacle/)).toBeVisible();
  await page.getByRole('button', { name: 'Clear station 2' }).click();
  await expect
    .poll(async () => Math.hypot((await shot('walkthrough')).stations[1]!.eye![0] - x, (await shot('walkthrough')).stations[1]!.eye![2] - z))
    .toBeGreaterThan(0.2);
  await fill(page, 'Walking speed', '0');
  await expect(page.getByRole('alert').first()).toBeVisible();
  expect((await shot('walkthrough')).pace).toBe(1.4);
});

test('a section reveal is planned by its plane, on an elevation, and both are rendered', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'Reveal', [WALK], SMALL);
  await page.goto(`${base()}/shots`);
  await page.getByRole('button', { name: 'Section reveal', exact: true }).first().click();
  await expect(page.getByTestId('plane-of-frame')).toContainText('plane at 0.');
  await expect.poll(async () => (await file()).shots.length).toBe(2);
  const first = (await shot('sectionReveal')).stations[0]!.height;
  await page.getByRole('slider', { name: 'Plane at station 1' }).focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect.poll(async () => (await shot('sectionReveal')).stations[0]!.height).toBeGreaterThan(first);
  await choose(page, 'Cut away', 'Front (+Z)');
  await expect.poll(async () => (await shot('sectionReveal')).normal).toEqual([0, 0, 1]);
  // A plane that starts far in front cuts nothing for a while, by the area of the real section; put back, it is fine again.
  const begins = (await shot('sectionReveal')).stations[0]!.height;
  await fill(page, 'Plane position', String(begins - 2), 0);
  await expect(page.getByTestId('reveal-remark').first()).toContainText('Nothing is cut yet in frames 1 to');
  await fill(page, 'Plane position', String(begins), 0);
  await expect(page.getByText('Nothing is cut yet')).toHaveCount(0);
  await page.getByLabel('Hatched caps').click();
  await fill(page, 'Hatch spacing', '0.02');
  await expect.poll(async () => (await shot('sectionReveal')).hatch).toMatchObject({ spacing: 0.02, angle: 45 });
  await fill(page, 'Hatch line width', '0.5');
  await expect(page.getByRole('alert').filter({ hasText: 'narrower than their spacing' })).toBeVisible();
  await fill(page, 'Hatch line width', '0.002');
  await fill(page, 'Move time', '0.5 s', 1);
  await expect.poll(async () => (await shot('sectionReveal')).stations[1]!.seconds).toBe(0.5);
  await expect(page.getByText('2 shots · 22 frames', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Start batch' }).click();
  await expect(page.getByRole('button', { name: 'Review', exact: true })).toBeVisible({ timeout: 120_000 });
  const [batch] = await server.get<BatchReply[]>(`/batches?project=${project.id}`);
  const frames = await server.get<FrameReply[]>(`/batches/${batch!.id}/frames`);
  expect(frames.map((f) => f.state)).toEqual(Array.from({ length: 22 }, () => 'done'));
});

test('shots are copied, put in order, switched off and taken out', { tag: '@long' }, async ({ page }) => {
  project = await plannedTern(server, 'Order', [WALK, REVEAL], SMALL);
  await page.goto(`${base()}/shots`);
  const names = async (): Promise<string[]> => (await file()).shots.map((s) => s.name!);
  await page.getByRole('button', { name: 'Section reveal', exact: true }).last().click();
  await expect(page.getByRole('button', { name: 'Delete Section reveal' })).toBeVisible();
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await expect.poll(names).toEqual(['Walkthrough', 'Section reveal', 'Section reveal 2']);
  await expect(page.getByRole('button', { name: 'Delete Section reveal 2' })).toBeVisible();
  await page.getByRole('button', { name: 'Move up', exact: true }).click();
  await expect.poll(names).toEqual(['Walkthrough', 'Section reveal 2', 'Section reveal']);
  await page.getByRole('button', { name: 'Switch off' }).click();
  await expect(page.getByText('3 shots · 22 frames', { exact: false })).toBeVisible();
  await expect(page.getByText('Off', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Switch on' }).click();
  await expect(page.getByText('3 shots · 34 frames', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Delete Section reveal 2' }).click();
  await expect.poll(names).toEqual(['Walkthrough', 'Section reveal']);
});

test('a walk takes its path from a glTF with a camera that moves', { tag: '@long' }, async ({ page }) => {
  const model = tern();
  const orbit = parseSet({
    ...LAMP_SHOTS,
    views: LAMP_SHOTS.views.slice(0, 1),
    shots: [{ id: 'orbit', kind: 'turntable', view: LAMP_SHOTS.views[0]!.id, frames: 5, degrees: 180, turns: ['camera'] }],
  });
  const frames = planFrames(orbit, { bounds: modelBounds(model), scene: 'tern' });
  const bytes = await exportPlanGlb(orbit, await writeGlb(model), frames, () => Promise.reject(new Error('no pictures')));
  project = await plannedTern(server, 'Path');
  await page.goto(`${base()}/shots`);
  await page.getByRole('button', { name: 'Walkthrough', exact: true }).first().click();
  await expect(page.getByRole('button', { name: 'Import path' })).toBeVisible();
  const give = (name: string, buffer: Buffer) => page.getByLabel('Path file').setInputFiles({ name, mimeType: 'application/octet-stream', buffer });
  await give('orbit.glb', Buffer.from(bytes));
  const stations = async () => {
    const shot = (await file()).shots.findLast((s) => s.kind === 'walkthrough');
    return shot?.kind === 'walkthrough' ? shot.stations : [];
  };
  await expect.poll(async () => (await stations()).length).toBe(frames.length);
  (await stations()).forEach((s, i) => s.eye!.forEach((c, k) => expect(c).toBeCloseTo(frames[i]!.camera.eye[k]!, 4)));
  await give('empty.glb', Buffer.from('nothing'));
  await expect(page.getByText(/"empty.glb" was not imported. It could not be read as glTF/)).toBeVisible();
});

/** From a pixel back to its cause: of a planned frame, and of a finished one by its frozen plan. */
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { spin } from '../../../tests/support/spin.js';
import type { BatchReply, FrameReply } from '../../contract/batches.js';
import type { ProjectReply, SetReply } from '../../contract/contract.js';
import type { PixelReply } from '../../contract/pixel.js';
import { parseSet, type SetFile } from '../../core/plan/set.js';

const server = new ServerHere();
let project: ProjectReply;
beforeAll(async () => {
  await server.start();
  // 40 cm wide, 20 cm high and 30 cm deep, on the ground.
  project = await server.blockProject('Block', '?unit=mm&up=z');
});
afterAll(() => server.end());

const revision = (): number => project.revisions[0]!.id;
/** Straight at the block from two metres in front of its middle. */
const plan = (stage: object = { preset: 'overcast court' }): SetFile => {
  const file = spin(2);
  const { bounds } = project.revisions[0]!;
  const middle = bounds.min.map((v, i) => (v + bounds.max[i]!) / 2) as [number, number, number];
  return parseSet({
    ...file,
    stage,
    views: [{ id: 'v', name: 'Straight', kind: 'perspective', eye: [middle[0], middle[1], bounds.max[2]! + 2], target: middle, focalLength: 50 }],
    shots: [{ id: 'still', name: 'Still', kind: 'still', views: ['v'] }],
  });
};
const ask = (set: SetReply, x: number, y: number) =>
  server.call().get(`/api/sets/${set.id}/pixel?revision=${revision()}&run=still&number=1&x=${x}&y=${y}`);
const at = async (set: SetReply, x: number, y: number): Promise<PixelReply> => (await ask(set, x, y)).body as PixelReply;

describe('a pixel of a planned frame', () => {
  it('tells the part, where it is, which way it faces, and the view', async () => {
    const pixel = await at(await server.addSet(project, plan()), 0.5, 0.5);
    expect(pixel.part).toBe('Body');
    expect(pixel.material).toBe('red');
    // Two metres from the face, which looks at the camera.
    expect(pixel.distance).toBeCloseTo(2, 3);
    expect(pixel.place![2]).toBeCloseTo(project.revisions[0]!.bounds.max[2]!, 4);
    expect(pixel.normal![2]).toBeCloseTo(1, 4);
    expect(pixel.view).toEqual({ id: 'v', name: 'Straight' });
    const { diffuse, specular, emission } = pixel.passes;
    pixel.colour.forEach((c, i) => expect(diffuse![i]! + specular![i]! + emission![i]!).toBeCloseTo(c, 4));
  });

  it('tells what lights it: shares that add up to one, the most first', async () => {
    const { lights } = await at(await server.addSet(project, plan()), 0.5, 0.5);
    expect(lights.reduce((n, l) => n + l.share, 0)).toBeCloseTo(1, 6);
    expect(lights.map((l) => l.share)).toEqual(lights.map((l) => l.share).sort((a, b) => b - a));
    expect(lights.map((l) => l.name)).toContain('Surroundings');
  });

  it('names a light of the set, and knows when another lights it more', async () => {
    const { bounds } = project.revisions[0]!;
    const inFront = [0, 0.1, bounds.max[2]! + 1];
    const lamp = (id: string, name: string, lumens: number, where: number[]) => ({ id, name, kind: 'point', at: where, target: [0, 0, 0], lumens });
    const set = await server.addSet(
      project,
      plan({ preset: 'overcast court', lights: [lamp('key', 'Key', 200_000, inFront), lamp('back', 'Back', 200_000, [0, 0.1, bounds.min[2]! - 1])] }),
    );
    const { lights } = await at(set, 0.5, 0.5);
    expect(lights[0]).toMatchObject({ name: 'Key', id: 'key' });
    expect(lights[0]!.share).toBeGreaterThan(0.8);
    // What stands behind the block lights its face next to nothing.
    expect(lights.find((l) => l.name === 'Back')?.share ?? 0).toBeLessThan(0.05);
  });

  it('where nothing stands tells nothing but the colour', async () => {
    const set = await server.addSet(project, plan({ preset: 'overcast court', ground: { kind: 'none' } }));
    expect(await at(set, 0.02, 0.02)).toMatchObject({ part: null, material: null, distance: null, place: null, normal: null, lights: [] });
  });

  it('refuses what is no place or no frame', async () => {
    const set = await server.addSet(project, plan());
    expect((await ask(set, 2, 0.5)).status).toBe(400);
    const lost = await server.call().get(`/api/sets/${set.id}/pixel?revision=${revision()}&run=walk&number=1&x=0&y=0`);
    expect(lost.status).toBe(404);
  });
});

it('a finished frame answers from its frozen plan, whatever the set says since', async () => {
  const set = await server.addSet(project, plan());
  const before = await at(set, 0.5, 0.5);
  const { id } = (await server.call().post(`/api/sets/${set.id}/batches`).send({ revision: revision() })).body as BatchReply;
  await vi.waitFor(async () => expect(((await server.call().get(`/api/batches/${id}`)).body as BatchReply).state).toBe('done'), { timeout: 20_000 });
  const turned = { ...set.file, views: set.file.views.map((v) => ({ ...v, name: 'Away', target: [0, 0.1, 9] as [number, number, number] })) };
  await server.call().put(`/api/sets/${set.id}`).send({ version: set.version, file: turned });
  expect((await at(set, 0.5, 0.5)).part).toBeNull();
  const [frame] = (await server.call().get(`/api/batches/${id}/frames`)).body as FrameReply[];
  const pixel = (await server.call().get(`/api/batches/${id}/frames/${frame!.id}/pixel?x=0.5&y=0.5`)).body as PixelReply;
  expect(pixel.part).toBe(before.part);
  expect(pixel.place).toEqual(before.place);
  expect(pixel.view.name).toBe('Straight');
  expect((await server.call().get(`/api/batches/${id}/frames/${frame!.id + 99}/pixel?x=0.5&y=0.5`)).status).toBe(404);
});

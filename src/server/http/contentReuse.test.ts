/** What counts of a model that changed: parts that render, and materials that these wear. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { BatchesHere } from '../../../tests/support/batchesHere.js';
import { blockObj } from '../../../tests/support/box.js';
import type { BatchReply } from '../../contract/batches.js';
import type { ProjectReply } from '../../contract/contract.js';
import { materialAssignmentsSchema } from '../../core/materials/assignments.js';
import { customMaterialSchema } from '../../core/materials/customMaterial.js';
import type { SetFile } from '../../core/plan/set.js';

const here = new BatchesHere();

/** Imports the block with a box inside it as the next revision; returns its id. */
async function importBlock(name: string, size: number[]): Promise<number> {
  const reply = await here.server
    .call()
    .post(`/api/projects/${here.project.id}/model?unit=mm&up=z`)
    .attach('files', Buffer.from(blockObj([{ name, size }]).obj), 'block.obj');
  return (reply.body as ProjectReply).revisions.at(-1)!.id;
}

const assigned = (file: SetFile, materials: object): SetFile => ({ ...file, materials: materialAssignmentsSchema.parse(materials) });
const hideHelper = { parts: [{ path: 'Helper', renderVisible: false }] };

async function bytesOf(batch: BatchReply): Promise<Buffer[]> {
  return (await here.frames(batch.id)).flatMap((f) => f.files.map((name) => readFileSync(path.join(batch.folder, name))));
}

describe('a revision', () => {
  it('that differs in a part that does not render makes nothing stale, and its frames have the same bytes', async () => {
    const set = await here.addSet(assigned(here.file(3), hideHelper));
    const [first, second] = [await importBlock('Helper', [50, 50, 50]), await importBlock('Helper', [90, 20, 60])];
    await here.rendered(set, { revision: first });
    expect(await here.changes(set, '', second)).toMatchObject({ takenOver: 3, toRender: 0, counts: { stale: 0 } });
    const taken = await here.rendered(set, { revision: second });
    expect(taken.takenOver).toBe(3);
    const anew = await here.rendered(set, { revision: second, anew: true });
    const [a, b] = [await bytesOf(taken), await bytesOf(anew)];
    a.forEach((bytes, i) => expect(bytes.equals(b[i]!)).toBe(true));
    // Once it renders, it counts.
    await here.save(set, here.file(3));
    expect(await here.changes(set, '', second)).toMatchObject({ toRender: 3, reasons: [{ grounds: ['materials', 'model'], frames: 3 }] });
  });

  it('that differs in a part that renders makes its frames stale, and says that it is the model', async () => {
    const set = await here.addSet(here.file(2));
    const [first, second] = [await importBlock('Foot', [50, 50, 50]), await importBlock('Foot', [90, 20, 60])];
    await here.rendered(set, { revision: first });
    expect(await here.changes(set, '', second)).toMatchObject({ takenOver: 0, toRender: 2, reasons: [{ grounds: ['model'], frames: 2 }] });
  });

  it('keeps what was read of its content beside its model', () => {
    const models = readdirSync(path.join(here.server.running.context.store.root, 'models'));
    expect(models.filter((f) => f.endsWith('.content.json')).length).toBeGreaterThanOrEqual(4);
    expect(models.some((f) => f.includes('.part'))).toBe(false);
    expect(existsSync(path.join(here.server.running.context.store.root, 'models'))).toBe(true);
  });
});

describe('a material', () => {
  it('that nothing wears may change, and one that something wears counts for the frames that show it', async () => {
    const custom = (name: string, roughness: number) => customMaterialSchema.parse({ name, colour: '#336699', roughness });
    const plain = here.file(2);
    const file = {
      ...plain,
      views: [plain.views[0]!, { ...plain.views[0]!, id: 'bare', name: 'Bare', overrides: { hiddenParts: ['Lid'] } }],
      shots: [plain.shots[0]!, { ...plain.shots[0]!, id: 'bare', view: 'bare' } as SetFile['shots'][number]],
    };
    const dressed = (lid: number, unused: number): SetFile =>
      assigned(file, { parts: [{ path: 'Lid', material: 'On the lid' }], materials: [custom('On the lid', lid), custom('Unused', unused)] });
    const set = await here.addSet(dressed(0.3, 0.3));
    await here.rendered(set);
    await here.save(set, dressed(0.3, 0.8));
    expect(await here.changes(set)).toMatchObject({ total: 4, takenOver: 4, toRender: 0 });
    // The shot that leaves the lid out does not change with its material.
    await here.save(set, dressed(0.9, 0.8));
    expect(await here.changes(set)).toMatchObject({ takenOver: 2, toRender: 2, reasons: [{ grounds: ['materials'], frames: 2 }] });
    const batch = await here.rendered(set);
    expect((await here.frames(batch.id)).map((f) => [f.shot, f.takenOver ?? false])).toEqual([
      ['spin', false],
      ['spin', false],
      ['bare', true],
      ['bare', true],
    ]);
  });
});

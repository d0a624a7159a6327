/** Files that are damaged in every way that is cheap to think of: a clear error or a correct read, never another fault. */
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { importModel } from '../../src/engine/node/importModel.js';
import { ModelError } from '../../src/formats/format.js';
import { readModel } from '../../src/formats/formats.js';
import { dice, INSIDE, MODEL_SAMPLES as cases } from '../support/modelSamples.js';

const sample = (name: string) => cases.find(([n]) => n === name)![1]();
const text = (t: string): Uint8Array => new TextEncoder().encode(t);

/** Reads; tells what came of it. Any fault but a ModelError that names the file ends the test. */
async function outcome(name: string, bytes: Uint8Array): Promise<'read' | 'refused'> {
  try {
    const model = await readModel([{ name, bytes }], { unit: 'mm', up: 'z' });
    for (const mesh of model.meshes)
      for (const i of mesh.indices) if (i * 3 + 2 >= mesh.positions.length) throw new Error(`${name}: an index that points nowhere was let through`);
    return 'read';
  } catch (e) {
    if (!(e instanceof ModelError)) throw e;
    expect(
      [name, INSIDE].some((told) => e.message.includes(told)),
      e.message,
    ).toBe(true);
    return 'refused';
  }
}

/** Of formats whose library may read on for ever: each goes through a thread of its own, which is ended. */
const HANGS = ['a.brep'];

/** Bytes at the end that hold nothing: readers do without them. */
const PADDING: Record<string, number> = { 'b.fbx': 13 + 176, 'a.off': 1 };

/** Formats of lines without a count or an end: what stands before a cut is a whole file. */
const OPEN_ENDED = ['a.obj'];

describe('damaged files', () => {
  it.each(cases)(
    '%s, cut short all along',
    async (name, make, step) => {
      const bytes = await make();
      expect(await outcome(name, bytes)).toBe('read');
      const read: number[] = [];
      let cuts = 0;
      for (let at = step; at < bytes.length - (PADDING[name] ?? 0); at += step, cuts++)
        if ((await outcome(name, bytes.subarray(0, at))) === 'read') read.push(at);
      // Text formats without an end can be whole up to a cut; what has a count or an end cannot.
      if (OPEN_ENDED.includes(name)) expect(read.length).toBeLessThan(cuts);
      else expect(read).toEqual([]);
    },
    120_000,
  );

  it.each(cases.filter(([name]) => !HANGS.includes(name)))(
    '%s, with bytes flipped',
    async (name, make) => {
      const whole = await make();
      const roll = dice(20261125);
      for (let run = 0; run < 12; run++) {
        const bytes = whole.slice();
        for (let k = 0; k < 1 + run; k++) bytes[Math.floor(roll() * bytes.length)]! ^= 1 << Math.floor(roll() * 8);
        await outcome(name, bytes);
      }
    },
    120_000,
  );

  it.each(cases.filter(([name]) => HANGS.includes(name)))(
    '%s, with bytes flipped, ends in time',
    async (name, make) => {
      const whole = await make();
      const roll = dice(20261125);
      const ends: string[] = [];
      for (let run = 0; run < 8; run++) {
        const bytes = whole.slice();
        for (let k = 0; k < 1 + run; k++) bytes[Math.floor(roll() * bytes.length)]! ^= 1 << Math.floor(roll() * 8);
        try {
          await importModel([{ name, bytes }], { unit: 'mm', up: 'z' }, { stallSeconds: 6 });
          ends.push('read');
        } catch (e) {
          expect(e).toBeInstanceOf(ModelError);
          expect((e as Error).message).toContain(name);
          ends.push((e as Error).message.includes('took longer') ? 'ended' : 'refused');
        }
      }
      // The sixth of them is one that the library never comes back from.
      expect(ends).toContain('ended');
      expect(ends).toContain('read');
      expect(ends).toContain('refused');
    },
    120_000,
  );

  it('absurd counts allocate nothing', async () => {
    const many = (await sample('a.stl')).slice(0, 200);
    new DataView(many.buffer).setUint32(80, 0xffffffff, true);
    expect(await outcome('many.stl', many)).toBe('refused');
    const head =
      'ply\nformat binary_little_endian 1.0\nelement vertex 4294967295\nproperty float x\nproperty float y\nproperty float z\nelement face 4294967295\nproperty list uchar int vertex_indices\nend_header\n';
    expect(await outcome('many.ply', text(`${head}0000000000`))).toBe('refused');
  });

  it('archives with paths that lead out, or with nothing in them, read nothing and write nothing', async () => {
    expect(await outcome('out.3mf', zipSync({ '../../../tmp/evil.model': strToU8('<model/>') }))).toBe('refused');
    expect(await outcome('none.3mf', zipSync({}))).toBe('refused');
    expect(await outcome('none.usdz', zipSync({ 'a.txt': strToU8('no') }))).toBe('refused');
    // Deep nesting.
    expect(await outcome('deep.dae', text(`<COLLADA>${'<a>'.repeat(20_000)}${'</a>'.repeat(20_000)}</COLLADA>`))).toBe('refused');
  }, 60_000);

  it('external addresses in a Collada file are not fetched', async () => {
    const fetched: unknown[] = [];
    const before = globalThis.fetch;
    globalThis.fetch = ((url: unknown) => {
      fetched.push(url);
      return Promise.reject(new Error('no network'));
    }) as typeof fetch;
    try {
      await outcome(
        'ext.dae',
        text(
          '<COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1"><asset/><library_images><image id="i"><init_from>http://198.51.100.7/a.png</init_from></image></library_images><scene/></COLLADA>',
        ),
      );
    } finally {
      globalThis.fetch = before;
    }
    expect(fetched).toEqual([]);
  });
});

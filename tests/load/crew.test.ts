/** Workers that break down, hang, or end of one frame again and again. */
import { afterEach, beforeAll, describe, expect, it } from 'vitest';
import { closedHall } from '../../bench/scenes.js';
import type { Frame } from '../../src/core/frame/frame.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { startPool, startThread } from '../../src/engine/node/threads.js';
import { compile, type CompiledScene } from '../../src/engine/scene/compile.js';
import { DeadlyFrameError, type RenderOptions } from '../../src/engine/scheduler/job.js';
import type { TaskMessage, Thread, ToWorker } from '../../src/engine/scheduler/messages.js';
import { Pool } from '../../src/engine/scheduler/pool.js';
import { longTest } from '../support/long.js';
import { frameFor } from '../support/trace.js';

const hall = closedHall(1);
const base = { eye: [-7, 1.7, -13.9] as [number, number, number], target: [0, 1.9, 4] as [number, number, number] };
const frame = (width: number, samples: number): Frame => frameFor(hall, { ...base, width, height: Math.round(width * 0.5625), samples });
const denoised = (width: number, samples: number): Frame => {
  const plain = frame(width, samples);
  return { ...plain, sampling: { ...plain.sampling, denoise: true } };
};

let scene: CompiledScene;
let module: WebAssembly.Module;
beforeAll(() => {
  module = loadKernelModule();
  scene = compile(module, hall);
});

const isTask = (message: ToWorker): message is TaskMessage => !['attach', 'detach', 'frame', 'drop'].includes(message.type);

/** What becomes of the nth task (from 0, counted over all workers and their successors). */
type Fate = 'done' | 'dies' | 'hangs';

let pool: Pool;
let tasks: number;
let started: number;
function poolOf(fate: (task: TaskMessage, n: number) => Fate, hangMs?: number): void {
  tasks = started = 0;
  const thread = (): Thread => {
    started++;
    const real = startThread(module);
    let [fail, gone] = [(_: Error): void => undefined, false];
    return {
      ...real,
      onFailure: (handler) => {
        fail = handler;
        real.onFailure(handler);
      },
      post(message) {
        const becomes = isTask(message) ? fate(message, tasks++) : 'done';
        if (becomes === 'dies') {
          // What was given to it before comes out or not, as it happens.
          gone = true;
          void real.close().then(() => fail(new Error('it was killed')));
        }
        if (becomes === 'hangs') gone = true;
        if (!gone) real.post(message);
      },
    };
  };
  pool = new Pool(module, [thread(), thread()], 32, { restart: thread, ...(hangMs !== undefined && { hangMs }) });
}
afterEach(() => pool.close());

const render = async (f: Frame, options: RenderOptions = {}): Promise<Buffer> => {
  const picture = await pool.render('hall', () => scene, f, options);
  const bytes = Buffer.from(picture.colour.slice().buffer);
  picture.release();
  return bytes;
};

async function undisturbed(f: Frame, options: RenderOptions = {}): Promise<Buffer> {
  pool = startPool(2);
  const bytes = await render(f, options);
  await pool.close();
  return bytes;
}

describe('workers that are lost', () => {
  const replaced = async (at: number): Promise<void> => {
    const f = denoised(160, 16);
    const whole = await undisturbed(f);
    poolOf((_, n) => (n === at ? 'dies' : 'done'));
    expect((await render(f)).equals(whole)).toBe(true);
    expect(started).toBe(3);
    // The new one works for what comes next as well.
    expect((await render(f)).equals(whole)).toBe(true);
  };
  it('are replaced, and the picture is the same to the bit (the 20th task)', () => replaced(20));
  longTest.each([0, 90])('are replaced, and the picture is the same to the bit (the %ith task)', replaced);

  it('do not add samples twice where they end in a later round: the frame is begun anew', async () => {
    const f = frame(96, 24);
    const enough = (): AbortSignal => new AbortController().signal;
    const whole = await undisturbed(f, { enough: enough() });
    let died = false;
    poolOf((task) => {
      if (died || task.type !== 'trace' || task.from === 0) return 'done';
      died = true;
      return 'dies';
    });
    expect((await render(f, { enough: enough() })).equals(whole)).toBe(true);
    expect([died, started]).toEqual([true, 3]);
  });

  it('count as lost where they hang', async () => {
    const f = frame(96, 4);
    const whole = await undisturbed(f);
    poolOf((_, n) => (n === 5 ? 'hangs' : 'done'), 2000);
    expect((await render(f)).equals(whole)).toBe(true);
    expect(started).toBe(3);
  });

  it('are not given a frame again that two of them ended of; other frames are whole', async () => {
    const [good, deadly] = [frame(96, 4), frame(112, 4)];
    const whole = await undisturbed(good);
    // A tile that the smaller frame does not have.
    poolOf((task) => (task.type === 'trace' && task.y === 32 && task.height === 31 ? 'dies' : 'done'));
    const [bad, fine] = await Promise.allSettled([render(deadly), render(good)]);
    expect(bad).toMatchObject({ status: 'rejected', reason: expect.any(DeadlyFrameError) as Error });
    expect((bad as PromiseRejectedResult).reason).toMatchObject({
      message: expect.stringContaining('2 workers ended while they rendered this frame') as string,
    });
    expect(fine.status === 'fulfilled' && fine.value.equals(whole)).toBe(true);
    expect((await render(good)).equals(whole)).toBe(true);
  });

  it('are given up where no new one lives, with a sentence', async () => {
    poolOf(() => 'dies');
    const frames = Array.from({ length: 12 }, (_, i) => render({ ...frame(64, 1), seed: i }));
    const ends = await Promise.allSettled(frames);
    expect(ends.every((e) => e.status === 'rejected')).toBe(true);
    await expect(render(frame(48, 1))).rejects.toThrow(/worker ended unexpectedly|workers ended while/);
  });
});

import { describe, expect, it } from 'vitest';
import { DeadlyFrameError } from '../../engine/scheduler/job.js';
import { FailurePolicy, pauseSeconds } from './failurePolicy.js';

const coded = (code: string, file: string): Error => Object.assign(new Error(`${code}: cannot write '${file}'`), { code });

describe('what a failed frame means', () => {
  it('is tried again once, then passed over', () => {
    const policy = new FailurePolicy();
    expect(policy.judge(new Error('Shot a, frame 1: black'), 1)).toEqual({ kind: 'again', message: 'Shot a, frame 1: black' });
    policy.succeeded();
    expect(policy.judge(new Error('Shot a, frame 1: black'), 2)).toMatchObject({ kind: 'failed' });
  });

  it('fails at once where workers ended of it, and holds where they end of every frame', () => {
    const policy = new FailurePolicy();
    const judge = () => policy.judge(new DeadlyFrameError(2), 1);
    expect([judge(), judge(), judge()]).toMatchObject([{ kind: 'failed' }, { kind: 'failed' }, { kind: 'hold', failed: true }]);
  });

  it('holds where frames fail for the same reason three times in a row', () => {
    const policy = new FailurePolicy();
    const judge = (frame: number) => policy.judge(new Error(`Shot a, frame ${frame}: black`), 1);
    expect([judge(1).kind, judge(2).kind, judge(3).kind]).toEqual(['again', 'again', 'hold']);
    policy.succeeded();
    expect(judge(4).kind).toBe('again');
  });

  // Each message names another file: by their words, sixty frames of a read-only folder failed one by one.
  it.each(['ENOSPC', 'EPERM', 'EACCES', 'EROFS', 'EIO', 'EMFILE', 'SQLITE_BUSY', 'SQLITE_FULL', 'ENOENT'])('waits at the first %s', (code) => {
    const policy = new FailurePolicy();
    expect(policy.judge(coded(code, '/data/pictures/1.png'), 2)).toMatchObject({ kind: 'wait' });
  });

  it('holds for names that the disk does not take', () => {
    expect(new FailurePolicy().judge(coded('ENAMETOOLONG', 'x'), 1)).toMatchObject({
      kind: 'hold',
      failed: false,
      reason: expect.stringContaining('longer than the disk allows') as string,
    });
  });

  it('waits longer each time, and never longer than a minute', () => {
    expect([0, 1, 2, 3, 4, 5, 6, 60].map((tries) => pauseSeconds(tries, 2))).toEqual([2, 4, 8, 16, 32, 60, 60, 60]);
  });
});

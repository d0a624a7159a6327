/**
 * The forecast against what happened: recorded batches (tests/recordings, made by scripts/recordings.ts) are replayed.
 * The plain average of the frames so far stands beside it: what anybody would work out by hand. Aims are ours, no source.
 */
import { describe, expect, it } from 'vitest';
import { forecastPlan } from '../../src/core/forecast/forecast.js';
import { remainingTime } from '../../src/core/forecast/remaining.js';
import { readRecordings, type Recording } from '../support/recordings.js';

interface Tenth {
  recording: string;
  /** Tenths of the frames that are done. */
  done: number;
  /** Relative errors of the remaining time. */
  error: number;
  plain: number;
  isInRange: boolean;
}

const recordings = readRecordings();
const triedOf = ({ plan, trials }: Recording) => Object.entries(trials).map(([i, trial]) => ({ traits: plan.frames[Number(i)]!, trial }));
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const percent = (v: number): string => `${v < 0 ? '−' : ''}${(100 * Math.abs(v)).toFixed(1)}`.padStart(7);

/** What was foreseen before the first frame, beside what it came to. */
function before(recording: Recording) {
  const { forecast, seconds } = forecastPlan(recording.plan, triedOf(recording), recording.workers);
  const total = recording.done.reduce((n, d) => n + d.seconds, 0);
  return { forecast, seconds, total, error: forecast.seconds.likely / total - 1 };
}

function replay(recording: Recording): Tenth[] {
  const { plan, done } = recording;
  const { seconds, total } = before(recording);
  return Array.from({ length: 9 }, (_, i) => {
    const n = Math.max(1, Math.round(((i + 1) * done.length) / 10));
    const past = done.slice(0, n);
    const at = past.reduce((sum, d) => sum + d.seconds, 0);
    const measured = new Map(past.map((d) => [d.frame, d.seconds]));
    const frames = plan.frames.map((traits, k) => ({
      traits,
      foreseen: seconds[k]!,
      measured: measured.get(k) ?? null,
      left: measured.has(k) ? 0 : 1,
    }));
    const truth = total - at;
    const range = remainingTime(frames)!;
    const plain = (at / n) * (done.length - n);
    return {
      recording: recording.name,
      done: i + 1,
      error: range.likely / truth - 1,
      plain: plain / truth - 1,
      isInRange: truth >= range.low && truth <= range.high,
    };
  });
}

const all = recordings.map(replay);

describe('recorded batches', () => {
  it('are of every sort', () => {
    for (const sort of ['even', 'light to heavy', 'heavy to light', 'one spike', 'mixed', 'walk', 'quick'])
      expect(
        recordings.some((r) => r.name.startsWith(sort)),
        sort,
      ).toBe(true);
    for (const { plan, done } of recordings) expect(done.map((d) => d.frame).sort((a, b) => a - b)).toEqual([...plan.frames.keys()]);
  });
});

describe('before the first frame', () => {
  it('the forecast is within 25 % in the median, and its range holds', () => {
    const rows = recordings.map((r) => ({ name: r.name, ...before(r) }));
    const lines = rows.map((r) => `${r.name.padEnd(46)} ${r.total.toFixed(1).padStart(7)} s ${percent(r.error)} %`);
    process.stdout.write(`Before the first frame: what a batch took, and the error of its forecast\n${lines.join('\n')}\n`);
    expect(median(rows.map((r) => Math.abs(r.error)))).toBeLessThan(0.25);
    expect(Math.max(...rows.map((r) => Math.abs(r.error)))).toBeLessThan(0.5);
  });

  it('bytes are within half and twice', () => {
    for (const recording of recordings) {
      const { forecast } = before(recording);
      const ratio = forecast.bytes / recording.done.reduce((n, d) => n + d.bytes, 0);
      expect(ratio, recording.name).toBeGreaterThan(0.5);
      expect(ratio, recording.name).toBeLessThan(2);
    }
  });
});

describe('the remaining time at each tenth of the way', () => {
  it('is told beside the plain average', () => {
    const head = `${''.padEnd(46)}${Array.from({ length: 9 }, (_, i) => `${i + 1}0 %`.padStart(15)).join('')}`;
    const lines = all.map(
      (row) => `${row[0]!.recording.padEnd(46)}${row.map((t) => `${percent(t.error)}/${percent(t.plain).trim()}`.padStart(15)).join('')}`,
    );
    const worse = all.flat().filter((t) => Math.abs(t.error) > Math.abs(t.plain) + 0.02).length;
    process.stdout.write(
      `Error of the remaining time in per cent, ours / plain average\n${head}\n${lines.join('\n')}\nWorse than the plain average by more than two points: ${worse} of ${all.flat().length}\n`,
    );
    expect(all).toHaveLength(recordings.length);
  });

  it('is under 10 % at a tenth of the way in the median', () => {
    expect(median(all.map((row) => Math.abs(row[0]!.error)))).toBeLessThan(0.1);
  });

  it('is in the median of all recordings never worse than the plain average by more than two points', () => {
    for (let i = 0; i < 9; i++) {
      const ours = median(all.map((row) => Math.abs(row[i]!.error)));
      const plain = median(all.map((row) => Math.abs(row[i]!.plain)));
      expect(ours, `${i + 1}0 %`).toBeLessThan(plain + 0.02);
    }
  });

  it('lies in its range 70 to 95 % of the time', () => {
    const tenths = all.flat();
    const share = tenths.filter((t) => t.isInRange).length / tenths.length;
    process.stdout.write(`The truth lies in the range ${(100 * share).toFixed(0)} % of the time\n`);
    expect(share).toBeGreaterThanOrEqual(0.7);
    expect(share).toBeLessThanOrEqual(0.95);
  });
});

/**
 * Moves through stations in time: legs that take seconds and holds at their ends. A clip has
 * round(T · rate) frames over the whole time T, the first on the first station and the last on the last.
 */
import { framesOfDuration, type Rate } from '../units/rate.js';

/** How long a station and the way to it last. */
export interface TimedStation {
  /** Seconds of the leg that leads here; the first station has none. */
  seconds: number;
  /** Seconds that the move stands still here. */
  hold: number;
  /** The leg that leads here is left out of the clip. */
  out?: boolean;
}

/** A place on a path. */
export interface PathSample {
  /** Index of the leg, the one that leads to station leg + 1. */
  leg: number;
  /** Share 0..1 of the leg's time. */
  share: number;
}

/** Seconds of the whole path, without legs that are left out. */
export function pathSeconds(stations: TimedStation[]): number {
  return stations.reduce((sum, s, i) => sum + s.hold + (i > 0 && !s.out ? s.seconds : 0), 0);
}

/** Frames of the whole path at that rate, at least one. */
export function pathFrameCount(stations: TimedStation[], rate: Rate): number {
  return Math.max(1, framesOfDuration(pathSeconds(stations), rate));
}

/** Times in seconds of the frames of a move. A closed one leaves out the frame that would equal its first. */
export function pathTimes(stations: TimedStation[], rate: Rate, closed = false): number[] {
  const n = pathFrameCount(stations, rate);
  const whole = pathSeconds(stations);
  return Array.from({ length: n }, (_, i) => (whole * i) / Math.max(1, closed ? n : n - 1));
}

/** Where a move is at a time in seconds. */
export function sampleAt(stations: TimedStation[], time: number): PathSample {
  let left = time - stations[0]!.hold;
  // Where nobody rests at the first station, a move whose first leg is left out begins with the next one.
  const first =
    stations[0]!.hold > 0
      ? 1
      : Math.max(
          1,
          stations.findIndex((s, i) => i > 0 && !s.out),
        );
  if (left <= 0) return { leg: first - 1, share: 0 };
  let last: PathSample = { leg: 0, share: 0 };
  for (let i = 1; i < stations.length; i++) {
    const s = stations[i]!;
    if (!s.out) {
      if (left < s.seconds) return { leg: i - 1, share: left / s.seconds };
      left -= s.seconds;
    }
    last = { leg: i - 1, share: 1 };
    if (left <= s.hold) return last;
    left -= s.hold;
  }
  return last;
}

/** Share of the time in which a gentle move gains its speed, and again in which it loses it. */
const RAMP = 0.25;
/** Mean speed of a gentle move over its greatest. */
export const EASE_DURATION_FACTOR = 1 - RAMP;

/** Share of the way at a share of the time where a move begins and ends gently: speed rises and falls evenly. */
export function smoothstep(t: number): number {
  const top = 1 / EASE_DURATION_FACTOR;
  if (t < RAMP) return (top * t * t) / (2 * RAMP);
  if (t > 1 - RAMP) return 1 - (top * (1 - t) ** 2) / (2 * RAMP);
  return top * (t - RAMP / 2);
}

/**
 * The stations' times with gentle starts and ends: of each run of legs between holds, time is mapped
 * so that the run begins and ends at rest.
 */
export function easedTime(stations: TimedStation[], time: number): number {
  let from = 0;
  let length = 0;
  let at = stations[0]!.hold;
  from = at;
  for (let i = 1; i < stations.length; i++) {
    const s = stations[i]!;
    if (!s.out) length += s.seconds;
    at = from + length;
    const ends = s.hold > 0 || i === stations.length - 1;
    if (ends) {
      if (time > from && time < at) return from + length * smoothstep((time - from) / length);
      from = at + s.hold;
      length = 0;
    }
  }
  return time;
}

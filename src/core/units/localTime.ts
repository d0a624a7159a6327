/** Civil time of a zone: dates and clock times to instants, with the hours that daylight saving takes out or doubles named. */
import { DateTime } from 'luxon';
import * as z from 'zod';

/** A civil day, as 2026-06-21, of the years that the sun is computed for. */
export const dateSchema = z
  .string()
  .regex(/^\d{4}-\d\d-\d\d$/, 'Write a date as 2026-06-21.')
  .refine((d) => DateTime.fromISO(d, { zone: 'utc' }).isValid, 'There is no such day; write a date as 2026-06-21.')
  .refine((d) => Number(d.slice(0, 4)) >= 1900 && Number(d.slice(0, 4)) <= 2100, 'Choose a year from 1900 to 2100.');

/** A time of day, as 15:30. */
export const clockSchema = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Write a time as 15:30.');

/** A moment by the clocks of a zone. */
export interface LocalDateTime {
  date: string;
  time: string;
  /** The second of two hours of one name, where clocks are put back. */
  later?: boolean;
}

/** Minutes after midnight of a clock time. */
export function minutesOf(time: string): number {
  return Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));
}

/** Clock time of minutes after midnight, 0 to 1439. */
export function clockOf(minutes: number): string {
  const m = Math.round(minutes);
  return `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`;
}

/** What a clock's time means at a place. */
export interface Instant {
  /** Milliseconds since 1970 in UTC. */
  at: number;
  /** Hours that the clock is ahead of UTC. */
  offset: number;
  /** The clock shows this time twice that night; `later` tells which. */
  doubled: boolean;
}

const local = ({ date, time }: LocalDateTime, zone: string): DateTime => DateTime.fromISO(`${date}T${time}`, { zone });

/** The instant of a civil time. Throws, with the remedy, where clocks skip it. */
export function instantOf(civil: LocalDateTime, zone: string): Instant {
  const asked = local(civil, zone);
  const [hour, minute] = [Number(civil.time.slice(0, 2)), Number(civil.time.slice(3, 5))];
  if (asked.hour !== hour || asked.minute !== minute) {
    throw new Error(
      `${civil.time} on ${civil.date} is skipped in ${zone}: clocks go forward past it. Choose ${asked.toFormat('HH:mm')} or a time before the gap.`,
    );
  }
  const both = asked.getPossibleOffsets();
  const chosen = both.length > 1 ? both.sort((a, b) => a.toMillis() - b.toMillis())[civil.later ? 1 : 0]! : asked;
  return { at: chosen.toMillis(), offset: chosen.offset / 60, doubled: both.length > 1 };
}

/** What the clocks of a zone show at an instant. */
export function localTimeOf(at: number, zone: string): LocalDateTime {
  const shown = DateTime.fromMillis(at, { zone });
  const both = shown.getPossibleOffsets();
  const later = both.length > 1 && Math.max(...both.map((d) => d.toMillis())) === shown.toMillis();
  return { date: shown.toFormat('yyyy-MM-dd'), time: shown.toFormat('HH:mm'), ...(later && { later }) };
}

/** First instant of a civil day and of the next: 23, 24 or 25 hours apart. */
export function dayOf(date: string, zone: string): { from: number; to: number } {
  const day = DateTime.fromISO(date, { zone }).startOf('day');
  return { from: day.toMillis(), to: day.plus({ days: 1 }).startOf('day').toMillis() };
}

/** Clock times of a day on whole multiples of a step in minutes, both ends included where they fall on one; skipped hours are left out, doubled ones come twice. */
export function clockSteps(date: string, zone: string, stepMinutes: number, from = 0, to = 24 * 60): LocalDateTime[] {
  const list: LocalDateTime[] = [];
  const seen = new Set<number>();
  const last = Math.min(to, 24 * 60 - 1);
  for (let m = Math.ceil(from / stepMinutes) * stepMinutes; m <= last; m += stepMinutes) {
    const civil = { date, time: clockOf(m) };
    let first: Instant;
    try {
      first = instantOf(civil, zone);
    } catch {
      continue;
    }
    if (seen.has(first.at)) continue;
    seen.add(first.at);
    list.push(civil);
    if (first.doubled) list.push({ ...civil, later: true });
  }
  // By instant, or the doubled hour would go to and fro.
  return list
    .map((c) => ({ c, at: instantOf(c, zone).at }))
    .sort((a, b) => a.at - b.at)
    .map(({ c }) => c);
}

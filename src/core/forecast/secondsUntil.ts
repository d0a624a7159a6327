/** How long it is until a time of day. */

/** Seconds from `now` to the next time that a clock of its zone shows `HH:MM`; null where the text is none. A time that is just now is a day away. */
export function secondsUntil(time: string, now: Date): number | null {
  const parts = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(time.trim());
  if (!parts) return null;
  const then = new Date(now);
  then.setHours(Number(parts[1]), Number(parts[2]), 0, 0);
  if (then <= now) then.setDate(then.getDate() + 1);
  return (then.getTime() - now.getTime()) / 1000;
}

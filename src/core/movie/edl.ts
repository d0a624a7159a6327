/** Cuts as an edit decision list in the form of CMX 3600 (from memory): events with source and record times, dissolves, pace by M2 lines. */
import { slugify } from '../plan/fileNames.js';
import type { SetFile } from '../plan/set.js';
import { parseRate, rateValue } from '../units/rate.js';
import { hasDropFrame, parseTimecode, timecode } from '../units/timecode.js';
import type { Clip } from './timeline.js';

/** The cut as events; record time begins at 0. A fade begins where the clip after it does. */
export function writeEdl(title: string, clips: Clip[], set: SetFile): string {
  const rate = parseRate(set.sheet.rate);
  const fps = rateValue(rate);
  let at = 0;
  const times = (...frames: number[]): string => frames.map((n) => timecode(n, rate)).join(' ');
  const events = clips.flatMap(({ name, first, count, speed, fade }, i) => {
    const number = String(i + 1).padStart(3, '0');
    const next = clips[i + 1]?.fade ?? 0;
    const shown = count - next;
    const source = speed === 0 ? shown : Math.round(shown * speed);
    const lines: string[] = [];
    const from = clips[i - 1];
    if (fade > 0 && from) {
      // The cut from which the fade leads stands as an event of no length.
      const end = from.first + Math.round((from.count - fade) * from.speed);
      lines.push(`${number}  AX       V     C        ${times(end, end, at, at)}`);
      lines.push(`${number}  AX       V     D    ${String(fade).padStart(3, '0')} ${times(first, first + source, at, at + shown)}`);
      lines.push(`* FROM CLIP NAME: ${slugify(from.name)}`, `* TO CLIP NAME: ${slugify(name)}`);
    } else {
      lines.push(`${number}  AX       V     C        ${times(first, first + source, at, at + shown)}`);
      lines.push(`* FROM CLIP NAME: ${slugify(name)}`);
    }
    if (speed !== 1) lines.push(`M2   AX             ${(speed * fps).toFixed(3).padStart(7, '0')}                ${times(first)}`);
    at += shown;
    return [...lines, ''];
  });
  return [
    `TITLE: ${title.replace(/[^\x20-\x7e]/g, '_').slice(0, 70)}`,
    `FCM: ${hasDropFrame(rate) ? 'DROP FRAME' : 'NON-DROP FRAME'}`,
    '',
    ...events,
  ].join('\r\n');
}

const EVENT = /^(\d+)\s+(\S+)\s+(\S+)\s+(C|D|W\d*)\s*(\d+)?\s+(\S+)\s+(\S+)\s+(\S+)\s+(\S+)\s*$/;

/** Clips of the picture events, at the set's rate. Throws a sentence that names the line at fault. */
export function readEdl(text: string, set: SetFile): { title: string; clips: Omit<Clip, 'shot'>[] } {
  const rate = parseRate(set.sheet.rate);
  const fps = rateValue(rate);
  const clips: Omit<Clip, 'shot'>[] = [];
  let title = 'Edit list';
  let last: Omit<Clip, 'shot'> | null = null;
  text.split(/\r?\n/).forEach((line, i) => {
    const fail = (what: string): never => {
      throw new Error(`Line ${i + 1} of the edit list ${what}`);
    };
    const named = /^TITLE:\s*(.+?)\s*$/i.exec(line);
    if (named) title = named[1]!;
    const event = EVENT.exec(line);
    if (event) {
      const [, , , track, kind, length, ...codes] = event;
      last = null;
      if (!/V/i.test(track!) && track !== 'B') return;
      const [from, to, start, end] = codes.map(
        (c) => parseTimecode(c, rate) ?? fail(`has the time "${c}", which does not exist at this set's rate.`),
      );
      if (kind!.startsWith('W')) fail('has a wipe, which a reel cannot. Make it a cut or a dissolve.');
      // An event of no length is where a dissolve leads from.
      if (end === start) return;
      const fade = kind === 'D' ? Number(length ?? 0) : 0;
      const before = clips.at(-1);
      if (fade > 0 && !before) fail('begins with a dissolve, from no clip.');
      if (fade > 0) before!.count += fade;
      const count = end! - start!;
      last = { name: '', first: from!, count, speed: to! > from! ? Number(((to! - from!) / count).toFixed(6)) : 0, fade };
      clips.push(last);
      return;
    }
    const clip = /^\*\s*(FROM|TO) CLIP NAME:\s*(.+?)\s*$/i.exec(line);
    // Of a dissolve both are named; what it leads to is the event's own.
    if (clip && last && (last.name === '' || clip[1]!.toUpperCase() === 'TO')) last.name = clip[2]!;
    const pace = /^M2\s+\S+\s+(-?[\d.]+)/i.exec(line);
    if (pace && last) {
      const speed = Number(pace[1]) / fps;
      if (!(speed >= 0)) fail('plays its clip backwards, which a reel cannot. Reverse it first.');
      last.speed = Number(speed.toFixed(6));
    }
  });
  if (clips.length === 0) throw new Error('The file holds no events of an edit list. Write it in the form of CMX 3600.');
  return { title, clips };
}

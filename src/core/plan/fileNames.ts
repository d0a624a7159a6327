import { NAME_TOKENS, type NameToken } from '../frame/nameTokens.js';

const TOKEN = /\{([a-z]+)(?::(\d+))?\}/g;

/** Why a pattern cannot be used, or null. `moving` patterns must number their frames. */
export function patternProblem(pattern: string, moving: boolean): string | null {
  if (!pattern.trim()) return 'Write a pattern, for example {shot}/{view}_{pass}.';
  if (pattern.startsWith('/') || pattern.endsWith('/') || pattern.includes('//'))
    return 'A pattern neither starts nor ends with "/", and each folder has a name.';
  if (/[\\:*?"<>|]|[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069]/u.test(pattern.replace(TOKEN, '')))
    return 'These signs cannot be in a file name: \\ : * ? " < > |';
  if (pattern.split('/').some((s) => /^\.+$/.test(s))) return 'A folder cannot be named with dots alone.';
  const used = new Set<string>();
  for (const m of pattern.matchAll(TOKEN)) {
    if (!(NAME_TOKENS as readonly string[]).includes(m[1]!))
      return `{${m[1]}} is not a token; the tokens are ${NAME_TOKENS.map((t) => `{${t}}`).join(' ')}.`;
    if (m[2] !== undefined && m[1] !== 'frame') return `Only {frame} takes a padding; {${m[1]}:${m[2]}} does not.`;
    if (m[2] !== undefined && (Number(m[2]) < 1 || Number(m[2]) > 8)) return 'The padding of {frame} is 1 to 8.';
    used.add(m[1]!);
  }
  if (/[{}]/.test(pattern.replace(TOKEN, ''))) return 'A brace is not closed.';
  if (moving && !used.has('frame')) return 'A moving shot needs {frame} in its name, for example {shot}_{pass}.{frame:4}.';
  return null;
}

/** Bytes of a file or folder name that every common file system takes, less those of an ending and of a temporary name. */
const MAX_SEGMENT_BYTES = 255 - '.webp.part'.length;
/** Bytes of a path below the folder of a batch. */
const MAX_PATH_BYTES = 800;
/** Marks that turn the direction of text, so that a name reads as another. */
const DIRECTION_MARKS = /[\u200e\u200f\u202a-\u202e\u2066-\u2069]/gu;
/** Device names of one widespread system, which takes them with any ending; common practice, no source. */
const RESERVED = /(^|\/)(con|prn|aux|nul|com[0-9]|lpt[0-9])(\.[^/]*)?(?=\/|$)/i;
/** What no name may have or end in. */
const UNSAFE = /[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069]|[. ](\/|$)/u;
const encoder = new TextEncoder();

/** Why a planned name (a path without ending) cannot be written on common systems, or null. */
export function nameProblem(name: string): string | null {
  const reserved = RESERVED.exec(name);
  if (reserved) return `"${reserved[2]}" is a name that some systems keep for themselves`;
  if (UNSAFE.test(name)) return 'it has control characters or direction marks, or a part of it ends in a dot or a blank';
  // No character takes more than three bytes a UTF-16 unit, so most names need not be measured.
  if (name.length * 3 <= MAX_SEGMENT_BYTES) return null;
  const longest = Math.max(...name.split('/').map((part) => encoder.encode(part).length));
  if (longest > MAX_SEGMENT_BYTES) return `a part of it has ${longest} bytes, and ${MAX_SEGMENT_BYTES} is the most`;
  const whole = encoder.encode(name).length;
  return whole > MAX_PATH_BYTES ? `it has ${whole} bytes, and ${MAX_PATH_BYTES} is the most` : null;
}

/** A word as it can stand in a file name anywhere: no separators, no signs that a system refuses. */
export function slugify(text: string): string {
  return (
    text
      .normalize('NFC')
      .replace(DIRECTION_MARKS, '')
      .replace(/[\s/\\:*?"<>|\p{Cc}]+/gu, '-')
      .replace(/^[.-]+|[.-]+$/g, '') || 'unnamed'
  );
}

/** As slugify, for words that come again and again. */
function rememberingSlugify(): (text: string) => string {
  const slugs = new Map<string, string>();
  return (text) => {
    let slug = slugs.get(text);
    if (slug === undefined) {
      if (slugs.size >= MAX_REMEMBERED_SLUGS) slugs.clear();
      slugs.set(text, (slug = slugify(text)));
    }
    return slug;
  };
}

/** A pattern with the tokens that tell frames apart behind its last {view} or {shot}, where they are not in it. */
export function withTokens(pattern: string, tokens: NameToken[]): string {
  const missing = tokens.filter((t) => !pattern.includes(`{${t}}`));
  if (missing.length === 0) return pattern;
  const at = Math.max(pattern.lastIndexOf('{view}'), pattern.lastIndexOf('{shot}'));
  const end = at < 0 ? 0 : at + 6;
  const words = missing.map((t) => `{${t}}`).join('_');
  return at < 0 ? `${words}_${pattern}` : `${pattern.slice(0, end)}_${words}${pattern.slice(end)}`;
}

/** Words that a pattern remembers; a plan has few, but asks for them in every frame. */
const MAX_REMEMBERED_SLUGS = 5000;

/** Fills a pattern for frames in a row: what stays the same from one to the next is filled once. */
export function compileNamePattern(pattern: string): (values: Partial<Record<NameToken, string>>, number: number) => string {
  const slug = rememberingSlugify();
  const tokens = [...pattern.matchAll(/\{frame(?::(\d+))?\}/g)];
  const [token] = tokens;
  if (!token || tokens.length > 1) return (values, number) => fillPattern(pattern, { ...values, number }, slug);
  const [before, after] = [pattern.slice(0, token.index), pattern.slice(token.index + token[0].length)];
  const padding = Number(token[1] ?? 1);
  let last: Partial<Record<NameToken, string>> | null = null;
  let [head, tail] = ['', ''];
  return (values, number) => {
    if (last !== values && (!last || NAME_TOKENS.some((t) => values[t] !== last![t]))) {
      [head, tail] = [fillPattern(before, values, slug), fillPattern(after, values, slug)];
      last = values;
    }
    return head + String(number).padStart(padding, '0') + tail;
  };
}

/** Fills a pattern; a token without a value becomes nothing. @param slug as slugify. */
export function fillPattern(pattern: string, values: Partial<Record<NameToken, string>> & { number?: number }, slug = slugify): string {
  return pattern.replace(TOKEN, (_, token: string, padding?: string) => {
    if (token === 'frame') return String(values.number ?? 0).padStart(Number(padding ?? 1), '0');
    return slug(values[token as NameToken] ?? '');
  });
}

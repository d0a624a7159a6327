/** The audit of a package: what its files are, against what they must be. Facts are read elsewhere; here they are judged. */
import { MAX_MOVIE_SECONDS_OFF, SOUND_PACKET } from './tolerance.js';
import { CHECKSUMS_FILE, type FileEntry, MANIFEST_FILE, type Manifest, type MovieEntry, type PackageChanges, type RenderEntry } from './manifest.js';
import { matcher } from '../plan/delivery.js';
import { frameTime, parseRate, rateValue } from '../units/rate.js';

/** What a package is checked for. */
export const AUDIT_RULES = [
  'missing',
  'torn',
  'checksum',
  'size',
  'type',
  'alpha',
  'rate',
  'length',
  'codec',
  'sound',
  'name',
  'frames',
  'unlisted',
  'asked',
] as const;
/** One of {@link AUDIT_RULES}. */
export type AuditRule = (typeof AUDIT_RULES)[number];

/** Something in a package that is not as its manifest or its delivery says. */
export interface AuditFault {
  rule: AuditRule;
  /** Path within the package; of several files the run or the package. */
  file: string;
  expected: string;
  found: string;
}

/** What was read off a file itself. */
export interface FileFacts {
  bytes: number;
  sha256: string;
  /** Why it cannot be opened. */
  problem?: string;
  /** Type and bits, or codec. */
  type?: string;
  width?: number;
  height?: number;
  alpha?: boolean;
  movie?: MovieFacts;
}
/** What a movie file says of itself, as a prober reads it. */
export interface MovieFacts {
  /** As a fraction or a number. */
  rate: string;
  frames: number;
  seconds: number;
  /** "yuv420p", and profile as the prober names it. */
  pixelFormat: string;
  profile: string;
  /** "tv" or "pc"; '' where the file does not say. */
  range: string;
  matrix: string;
  /** Whether the index stands before the pictures, so that it plays while it loads. */
  fastStart: boolean;
  /** Its sound, where it has one. */
  sound?: { codec: string; seconds: number };
}

const times = (width?: number, height?: number): string => `${width ?? '?'} × ${height ?? '?'}`;

/** Exact fractions are equal; what is only told as a decimal number is near. */
function sameRate(a: string, b: string): boolean {
  if (frameTime(1, parseRate(a)) === frameTime(1, parseRate(b))) return true;
  return Math.abs(rateValue(parseRate(a)) / rateValue(parseRate(b)) - 1) < 1e-4;
}

function judgeMovie({ path: file, type, rate, frames, sound }: MovieEntry, { movie }: FileFacts): AuditFault[] {
  if (!movie) return [];
  // Images in a row do not say how fast they go by.
  if (type === 'sequence')
    return movie.frames === frames ? [] : [{ rule: 'length', file, expected: `${frames} frames`, found: `${movie.frames} frames` }];
  const faults: AuditFault[] = [];
  const fault = (rule: AuditRule, expected: string, found: string): void => void faults.push({ rule, file, expected, found });
  // A GIF counts hundredths of a second a frame, an animated WebP thousandths, and nothing finer.
  const isImage = type === 'gif' || type === 'webp';
  // Sound ends with the packet that it ends in, and some containers tell the longer of the two.
  const coarse = type === 'gif' ? frames * 0.005 + 0.01 : type === 'webp' ? frames * 0.0005 + 0.002 : movie.sound ? SOUND_PACKET : 0;
  if (!isImage && !sameRate(movie.rate, rate)) fault('rate', `${rate} frames a second`, `${movie.rate} frames a second`);
  if (movie.frames !== frames) fault('length', `${frames} frames`, `${movie.frames} frames`);
  const seconds = frames / rateValue(parseRate(rate));
  if (Math.abs(movie.seconds - seconds) > MAX_MOVIE_SECONDS_OFF + coarse) fault('length', `${seconds.toFixed(3)} s`, `${movie.seconds.toFixed(3)} s`);
  if ((movie.sound?.codec ?? '') !== (sound ?? '')) fault('sound', sound ?? 'no sound', movie.sound?.codec ?? 'no sound');
  else if (movie.sound && Math.abs(movie.sound.seconds - seconds) > SOUND_PACKET)
    fault('sound', `${seconds.toFixed(2)} s of sound`, `${movie.sound.seconds.toFixed(2)} s`);
  if (isImage) return faults;
  if (movie.matrix !== 'bt709' || movie.range !== 'tv')
    fault('codec', 'BT.709, limited range', `${movie.matrix || 'no matrix'}, ${movie.range || 'no range'}`);
  if (/\.(mp4|mov)$/.test(file) && !movie.fastStart) fault('codec', 'index before the pictures', 'index behind the pictures');
  return faults;
}

function judgePixels({ path: file, type, width, height, ...entry }: RenderEntry | MovieEntry, facts: FileFacts): AuditFault[] {
  const faults: AuditFault[] = [];
  if (facts.width !== width || facts.height !== height)
    faults.push({ rule: 'size', file, expected: times(width, height), found: times(facts.width, facts.height) });
  if (facts.type !== type) faults.push({ rule: 'type', file, expected: type, found: facts.type ?? 'unknown' });
  if (entry.kind === 'render' && facts.alpha !== undefined && facts.alpha !== entry.alpha)
    faults.push({ rule: 'alpha', file, expected: entry.alpha ? 'alpha' : 'no alpha', found: facts.alpha ? 'alpha' : 'no alpha' });
  return faults;
}

/** What is wrong with one file; null facts of one that is not there. */
export function judgeFile(entry: FileEntry, facts: FileFacts | null): AuditFault[] {
  const { path: file } = entry;
  if (!facts) return [{ rule: 'missing', file, expected: 'the file', found: 'nothing' }];
  const faults: AuditFault[] = [];
  if (facts.sha256 !== entry.sha256)
    faults.push({
      rule: 'checksum',
      file,
      expected: `${entry.bytes} bytes, SHA-256 ${entry.sha256.slice(0, 12)}…`,
      found: `${facts.bytes} bytes, SHA-256 ${facts.sha256.slice(0, 12)}…`,
    });
  if (facts.problem !== undefined) return [...faults, { rule: 'torn', file, expected: 'a whole file', found: facts.problem }];
  if (entry.kind === 'render' || entry.kind === 'movie') faults.push(...judgePixels(entry, facts));
  if (entry.kind === 'movie') faults.push(...judgeMovie(entry, facts));
  return faults;
}

/** Which names come more than once, also where letters differ only in case: some disks take them for one. */
function doubledNames(files: readonly FileEntry[]): AuditFault[] {
  const seen = new Map<string, string>();
  const faults: AuditFault[] = [];
  for (const { path } of files) {
    const key = path.normalize('NFC').toLowerCase();
    const other = seen.get(key);
    if (other === undefined) seen.set(key, path);
    else faults.push({ rule: 'name', file: path, expected: 'a name of its own', found: other === path ? 'the same name twice' : `also ${other}` });
  }
  return faults;
}

/** Runs that lack frames. A still in several types or passes has each of its numbers as often. */
function missingFrames({ runs, files, onlyChanged }: Manifest): AuditFault[] {
  if (onlyChanged) return [];
  return runs.flatMap((run) => {
    const own = files.filter((f): f is RenderEntry => f.kind === 'render' && f.run === run.key);
    const kinds = new Map<string, Set<number>>();
    for (const f of own) kinds.set(`${f.type}, ${f.pass}`, (kinds.get(`${f.type}, ${f.pass}`) ?? new Set()).add(f.number));
    if (kinds.size === 0) kinds.set('', new Set());
    return [...kinds].flatMap(([kind, numbers]): AuditFault[] => {
      const missing = run.numbers.filter((n) => !numbers.has(n));
      return missing.length === 0
        ? []
        : [
            {
              rule: 'frames',
              file: run.name,
              expected: `${run.numbers.length} frames${kind && ` of ${kind}`}`,
              found: `${run.numbers.length - missing.length}; missing ${missing.slice(0, 20).join(', ')}${missing.length > 20 ? ' …' : ''}`,
            },
          ];
    });
  });
}

const stemOf = (path: string): string =>
  path
    .split('/')
    .at(-1)!
    .replace(/\.[^.]+$/, '');

/** What is not as the client asked. */
function notAsked({ delivery, runs, files }: Manifest): AuditFault[] {
  if (!delivery) return [];
  const faults: AuditFault[] = [];
  const fault = (file: string, expected: string, found: string): void => void faults.push({ rule: 'asked', file, expected, found });
  const { sizes, rates, files: types, names, maxSeconds, maxFrames, alpha } = delivery;
  for (const run of runs) {
    if (sizes && !sizes.some((s) => s.width === run.width && s.height === run.height))
      fault(run.name, sizes.map((s) => times(s.width, s.height)).join(' or '), times(run.width, run.height));
    if (run.moving && rates && !rates.some((r) => sameRate(r, run.rate)))
      fault(run.name, `${rates.join(' or ')} frames a second`, `${run.rate} frames a second`);
    const seconds = run.numbers.length / rateValue(parseRate(run.rate));
    if (run.moving && maxSeconds !== undefined && seconds > maxSeconds) fault(run.name, `at most ${maxSeconds} s`, `${seconds.toFixed(2)} s`);
    const own = files.filter((f): f is RenderEntry => f.kind === 'render' && f.run === run.key);
    const lacking = types?.filter((t) => !own.some((f) => f.type === t)) ?? [];
    if (lacking.length > 0) fault(run.name, types!.join(', '), `no ${lacking.join(', ')}`);
    if (alpha !== undefined && own.some((f) => f.pass === 'beauty' && f.alpha !== alpha))
      fault(run.name, alpha ? 'alpha' : 'no alpha', alpha ? 'no alpha' : 'alpha');
    if (delivery.movie && run.moving && !files.some((f) => f.kind === 'movie' && f.run === run.key && f.type === delivery.movie))
      fault(run.name, `a movie in ${delivery.movie}`, 'none');
  }
  if (names) {
    const fits = matcher(names);
    const wrong = files.filter((f) => f.kind === 'render' && !fits.test(stemOf(f.path)));
    if (wrong.length > 0)
      fault(wrong[0]!.path, `names as ${names}`, `${stemOf(wrong[0]!.path)}${wrong.length > 1 ? ` and ${wrong.length - 1} more` : ''}`);
  }
  const renders = new Set(files.flatMap((f) => (f.kind === 'render' ? [`${f.run} ${f.number}`] : []))).size;
  if (maxFrames !== undefined && renders > maxFrames) fault('package', `at most ${maxFrames} renders`, `${renders}`);
  return faults;
}

/** What is wrong with a package as a whole. @param found paths of all files that are in it. */
export function judgePackage(manifest: Manifest, found: readonly string[]): AuditFault[] {
  const listed = new Set([...manifest.files.map((f) => f.path), MANIFEST_FILE, CHECKSUMS_FILE]);
  return [
    ...doubledNames(manifest.files),
    ...missingFrames(manifest),
    ...found
      .filter((path) => !listed.has(path))
      .map((file): AuditFault => ({ rule: 'unlisted', file, expected: 'no such file', found: 'a file that the manifest does not list' })),
    ...notAsked(manifest),
  ];
}

/** Sum of what was rendered: that a file tells another revision or shot of the same render is no change. */
export const sumOf = (f: FileEntry): string => (f.kind === 'render' && f.source) || f.sha256;

/** What changed since an earlier delivery, by path: what is new, has other bytes, or is gone. */
export function changedSince(before: readonly FileEntry[], files: readonly FileEntry[]): PackageChanges {
  const then = new Map(before.map((f) => [f.path, sumOf(f)]));
  const now = new Set(files.map((f) => f.path));
  return {
    added: files.filter((f) => !then.has(f.path)).map((f) => f.path),
    changed: files.filter((f) => then.has(f.path) && then.get(f.path) !== sumOf(f)).map((f) => f.path),
    removed: before.filter((f) => !now.has(f.path)).map((f) => f.path),
  };
}

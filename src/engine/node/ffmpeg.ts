/** The programs that make and read movies: those of the system, else the one that came with the packages. */
import { spawn, spawnSync } from 'node:child_process';
import { createRequire } from 'node:module';
import { open } from 'node:fs/promises';
import type { ProbedMovie } from './probedMovie.js';
import { type EncodedCodec, lackedCodecs } from '../../core/movie/clip.js';
import { SOUND_FORMATS } from '../../core/movie/sound.js';
import { probeSequence } from './probeSequence.js';
import { probeWebp } from './probeWebp.js';

let program: string | null = null;

/** What programs say of their version, asked once each; null of one that is not there. */
const versions = new Map<string, string | null>();

function versionOf(name: string): string | null {
  const known = versions.get(name);
  if (known !== undefined) return known;
  const { status, stdout } = spawnSync(name, ['-version'], { encoding: 'utf8' });
  const version = status === 0 ? (/version ([\w.]+)/.exec(stdout)?.[1] ?? 'unknown') : null;
  versions.set(name, version);
  return version;
}

const answers = (name: string): boolean => versionOf(name) !== null;

/** ffmpeg of the system, or the one that came with the packages. */
export function findFfmpeg(): string {
  program ??= answers('ffmpeg') ? 'ffmpeg' : (createRequire(import.meta.url)('@ffmpeg-installer/ffmpeg') as { path: string }).path;
  return program;
}

let lacked: EncodedCodec[] | null = null;

/** Which program makes movies: whether it came with the packages, its version, and codecs that its build cannot write. */
export function encoderFacts(): { shipped: boolean; version: string; lacks: EncodedCodec[] } {
  const name = findFfmpeg();
  lacked ??= lackedCodecs(spawnSync(name, ['-hide_banner', '-encoders'], { encoding: 'utf8' }).stdout);
  return { shipped: name !== 'ffmpeg', version: versionOf(name) ?? 'unknown', lacks: lacked };
}

/** Runs a program and gives what it wrote. Rejects with the last line of what it said where it failed. */
function output(name: string, args: readonly string[], signal?: AbortSignal): Promise<{ out: string; said: string }> {
  return new Promise((resolve, reject) => {
    const child = spawn(name, args, { stdio: ['ignore', 'pipe', 'pipe'], ...(signal && { signal }) });
    let [out, said] = ['', ''];
    child.stdout.on('data', (d: Buffer) => (out += d.toString()));
    child.stderr.on('data', (d: Buffer) => (said = (said + d.toString()).slice(-20_000)));
    child.on('error', reject);
    child.on('close', (code) => (code === 0 ? resolve({ out, said }) : reject(new Error(said.trim().split('\n').at(-1) ?? `exit ${code}`))));
  });
}

interface Stream {
  codec_type: string;
  codec_name: string;
  profile?: string;
  width: number;
  height: number;
  pix_fmt: string;
  avg_frame_rate: string;
  nb_read_packets: string;
  color_space?: string;
  color_range?: string;
  duration?: string;
}

/** Whether the index of an MP4 or MOV stands before its pictures: boxes by ISO/IEC 14496-12, four bytes of length, four of name. */
export async function startsFast(file: string): Promise<boolean> {
  const handle = await open(file, 'r');
  try {
    const head = Buffer.alloc(16);
    for (let at = 0; ;) {
      const { bytesRead } = await handle.read(head, 0, 16, at);
      if (bytesRead < 8) return false;
      const name = head.toString('latin1', 4, 8);
      if (name === 'moov') return true;
      if (name === 'mdat') return false;
      const length = head.readUInt32BE(0);
      const size = length === 1 && bytesRead === 16 ? Number(head.readBigUInt64BE(8)) : length;
      if (size < 8) return false;
      at += size;
    }
  } finally {
    await handle.close();
  }
}

/** A rate as the plan writes it: whole numbers without their denominator. */
const rateText = (fraction: string): string => fraction.replace(/\/1$/, '');

/** Reads a movie whole. Rejects with the prober's last words where it is torn. */
export async function probeMovie(file: string, signal?: AbortSignal): Promise<ProbedMovie> {
  if (file.endsWith('.zip')) return probeSequence(file);
  // ffmpeg writes this format, and does not read it.
  if (file.endsWith('.webp')) return probeWebp(file);
  const fastStart = await startsFast(file);
  // Decoding it says what a list of packets does not: that every picture is whole.
  const { said } = await output(
    findFfmpeg(),
    ['-hide_banner', '-nostdin', '-xerror', '-i', file, '-map', '0:v:0', '-map', '0:a?', '-f', 'null', '-'],
    signal,
  );
  if (answers('ffprobe')) {
    const entries =
      'stream=codec_type,codec_name,profile,width,height,pix_fmt,avg_frame_rate,nb_read_packets,color_space,color_range,duration:format=duration';
    const args = ['-v', 'error', '-count_packets', '-show_entries', entries, '-of', 'json', file];
    const told = JSON.parse((await output('ffprobe', args, signal)).out) as { streams: Stream[]; format: { duration?: string } };
    const s = told.streams.find((t) => t.codec_type === 'video');
    const heard = told.streams.find((t) => t.codec_type === 'audio');
    if (!s) throw new Error('It holds no video.');
    return {
      codec: s.codec_name,
      width: s.width,
      height: s.height,
      rate: rateText(s.avg_frame_rate),
      frames: Number(s.nb_read_packets),
      seconds: Number(s.duration ?? told.format.duration ?? 0),
      pixelFormat: s.pix_fmt,
      profile: s.profile ?? '',
      range: s.color_range ?? '',
      matrix: s.color_space ?? '',
      fastStart,
      ...(heard && { sound: { codec: heard.codec_name, seconds: Number(heard.duration ?? told.format.duration ?? 0) } }),
    };
  }
  return { ...readWords(said), fastStart };
}

/** The length that ffmpeg tells of a file, in seconds; 0 where it tells none. */
function clockOf(said: string): number {
  const clock = /Duration: (\d+):(\d+):([\d.]+)/.exec(said);
  return clock ? Number(clock[1]) * 3600 + Number(clock[2]) * 60 + Number(clock[3]) : 0;
}

/** Length of a sound in seconds; it is read whole, by its ending alone. Rejects with what is wrong with it. */
export async function soundLength(file: string, ending: string): Promise<number> {
  const format = SOUND_FORMATS[ending as keyof typeof SOUND_FORMATS];
  const { said } = await output(findFfmpeg(), ['-hide_banner', '-nostdin', '-xerror', '-f', format, '-i', file, '-map', '0:a:0', '-f', 'null', '-']);
  // What was decoded, not what its head says.
  const last = [...said.matchAll(/time=(\d+):(\d+):([\d.]+)/g)].at(-1);
  const seconds = last ? Number(last[1]) * 3600 + Number(last[2]) * 60 + Number(last[3]) : 0;
  if (!(seconds > 0)) throw new Error('it holds no sound');
  return seconds;
}

/** The same out of what ffmpeg says while it reads, where there is no ffprobe. Throws where it says nothing of a picture. */
export function readWords(said: string): Omit<ProbedMovie, 'fastStart'> {
  const stream = /Video: (\w+)(?: \(([^)]*)\))?.*?, (\w+)(?:\(([^)]*)\))?,.*? (\d+)x(\d+).*?, ([\d.]+k?) fps/.exec(said);
  const frames = [...said.matchAll(/frame=\s*(\d+)/g)].at(-1)?.[1];
  if (!stream || frames === undefined) throw new Error('It holds no video.');
  const [, codec, profile = '', pixelFormat, colour = '', width, height, rate] = stream;
  const clock = clockOf(said);
  const heard = /Audio: (\w+)/.exec(said)?.[1];
  const words = colour.split(/[,/]\s*/);
  return {
    codec: codec!,
    width: Number(width),
    height: Number(height),
    rate: rate!,
    frames: Number(frames),
    seconds: clock,
    pixelFormat: pixelFormat!,
    profile: profile.split(' ')[0]!,
    range: words.find((w) => w === 'tv' || w === 'pc') ?? '',
    matrix: words.find((w) => /^bt/.test(w)) ?? '',
    ...(heard && { sound: { codec: heard, seconds: clock } }),
  };
}

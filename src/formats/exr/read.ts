/**
 * Reads back what write.ts writes, channel by channel: one part or several, scan lines, halves or single floats, none or ZIP
 * compression (OpenEXR File Layout, openexr.com). Loaders in the registry give four channels at most.
 */
import { inflateSync } from 'node:zlib';
import { DataUtils } from 'three/src/extras/DataUtils.js';
import { EXR_COMPRESSION_CODES, EXR_MAGIC, EXR_MULTIPART, EXR_VERSION } from './write.js';

/** An OpenEXR image by its channels, those of all its parts together. */
export interface ExrChannels {
  width: number;
  height: number;
  /** One value a pixel by channel name, rows from the top. */
  channels: Map<string, Float32Array>;
  /** Text attributes by name. */
  texts: Record<string, string>;
  /** Whether colour is in half floats: of its red, or of any channel where it has none. */
  halves: boolean;
}

interface Header {
  width: number;
  height: number;
  list: { name: string; half: boolean }[];
  code: number;
  texts: Record<string, string>;
  /** Where it ends. */
  end: number;
}

/** What a file of another kind, or a damaged one, is answered with. */
function refuse(): never {
  throw new Error('This is not an OpenEXR file as Cold Easel writes it, or it is damaged.');
}

function readText(bytes: Buffer, at: number): { text: string; next: number } {
  const end = bytes.indexOf(0, at);
  if (end < 0) refuse();
  return { text: bytes.toString('latin1', at, end), next: end + 1 };
}

function readChannelList(value: Buffer): Header['list'] {
  const list: Header['list'] = [];
  for (let at = 0; value[at] !== 0;) {
    const { text, next } = readText(value, at);
    const type = value.readInt32LE(next);
    if (type !== 1 && type !== 2) refuse();
    list.push({ name: text, half: type === 1 });
    at = next + 16;
  }
  return list;
}

/** What only says how a part lies in its file. */
const OF_PARTS = ['name', 'type'];

function readHeader(bytes: Buffer, start: number): Header {
  const header: Header = { width: 0, height: 0, list: [], code: -1, texts: {}, end: 0 };
  let at = start;
  while (bytes[at] !== 0) {
    const name = readText(bytes, at);
    const type = readText(bytes, name.next);
    const from = type.next + 4;
    const value = bytes.subarray(from, from + bytes.readInt32LE(type.next));
    at = from + value.length;
    if (name.text === 'channels') header.list = readChannelList(value);
    else if (name.text === 'compression') header.code = value[0]!;
    else if (name.text === 'dataWindow') {
      header.width = value.readInt32LE(8) - value.readInt32LE(0) + 1;
      header.height = value.readInt32LE(12) - value.readInt32LE(4) + 1;
    } else if (type.text === 'string' && !OF_PARTS.includes(name.text)) header.texts[name.text] = value.toString('utf8');
  }
  return { ...header, end: at + 1 };
}

/** Undoes `compress` of write.ts. */
function expand(packed: Buffer, length: number): Buffer {
  if (packed.length === length) return packed;
  const turned = inflateSync(packed);
  if (turned.length !== length) refuse();
  for (let i = 1; i < length; i++) turned[i] = (turned[i - 1]! + turned[i]! - 128) & 255;
  const raw = Buffer.allocUnsafe(length);
  const half = (length + 1) >> 1;
  for (let i = 0; i < length; i++) raw[i] = turned[(i & 1) * half + (i >> 1)]!;
  return raw;
}

/** Channels of a part. @param table where its table of offsets begins. @param head bytes before a block's first line: its part's number. */
function readPart(bytes: Buffer, { width, height, list, code }: Header, table: number, head: number): Map<string, Float32Array> {
  const lines = EXR_COMPRESSION_CODES.get(code)!;
  const lineBytes = list.reduce((n, c) => n + (c.half ? 2 : 4) * width, 0);
  const planes = list.map(({ name, half }) => ({ name, half, data: new Float32Array(width * height) }));
  for (let block = 0; block < Math.ceil(height / lines); block++) {
    const at = Number(bytes.readBigUInt64LE(table + block * 8)) + head;
    const [y0, size] = [bytes.readInt32LE(at), bytes.readInt32LE(at + 4)];
    const count = Math.min(lines, height - y0);
    const raw = expand(bytes.subarray(at + 8, at + 8 + size), count * lineBytes);
    let p = 0;
    for (let y = y0; y < y0 + count; y++) {
      for (const { half, data } of planes) {
        for (let i = y * width; i < (y + 1) * width; i++, p += half ? 2 : 4)
          data[i] = half ? DataUtils.fromHalfFloat(raw.readUInt16LE(p)) : raw.readFloatLE(p);
      }
    }
  }
  return new Map(planes.map(({ name, data }) => [name, data]));
}

function readHeaders(bytes: Buffer): { headers: Header[]; isMultipart: boolean; end: number } {
  const version = bytes.readInt32LE(4);
  const isMultipart = version === (EXR_VERSION | EXR_MULTIPART);
  if (bytes.readInt32LE(0) !== EXR_MAGIC || (version !== EXR_VERSION && !isMultipart)) refuse();
  const headers = [readHeader(bytes, 8)];
  // The last of several is followed by an empty one.
  while (isMultipart && bytes[headers.at(-1)!.end] !== 0) headers.push(readHeader(bytes, headers.at(-1)!.end));
  return { headers, isMultipart, end: headers.at(-1)!.end + (isMultipart ? 1 : 0) };
}

/** The file's channels. Throws where it is of another kind or damaged. */
export function readExr(bytes: Buffer): ExrChannels {
  const { headers, isMultipart, end } = readHeaders(bytes);
  const { width, height } = headers[0]!;
  const channels = new Map<string, Float32Array>();
  let table = end;
  for (const header of headers) {
    const lines = EXR_COMPRESSION_CODES.get(header.code);
    if (lines === undefined || width <= 0 || height <= 0 || header.width !== width || header.height !== height) refuse();
    for (const [name, data] of readPart(bytes, header, table, isMultipart ? 4 : 0)) channels.set(name, data);
    table += Math.ceil(height / lines) * 8;
  }
  const list = headers.flatMap((h) => h.list);
  const halves = list.find((c) => c.name === 'R')?.half ?? list.some((c) => c.half);
  return { width, height, channels, texts: Object.assign({}, ...headers.map((h) => h.texts)) as Record<string, string>, halves };
}

/** Channels of several files of one size together. Throws where there is none, or their sizes differ. */
export function joinExr([first, ...others]: readonly ExrChannels[]): ExrChannels {
  if (!first || others.some((o) => o.width !== first.width || o.height !== first.height)) refuse();
  return { ...first, channels: new Map([first, ...others].flatMap((f) => [...f.channels])) };
}

/** Values in the text form of USD: numbers, words, tuples, lists, dictionaries and values at times. */
import { DamageError } from '../format.js';
import type { Arc, Samples } from './layer.js';

/** A path, `</A/B>`. */
export class UsdPath {
  constructor(readonly path: string) {}
}

/** An address of a file, `@a.usda@`, with the path in it that may follow. */
export class UsdAsset {
  constructor(
    readonly address: string,
    readonly prim: string | null,
  ) {}
}

/** Tuples, lists and dictionaries within each other, at most: what is damaged must not exhaust the stack. */
const MAX_DEPTH = 64;
const SPACE = /(?:[\s;,]|#[^\n]*|\/\*[\s\S]*?\*\/)*/y;
const STRING = /"""([\s\S]*?)"""|'''([\s\S]*?)'''|"((?:[^"\\\n]|\\.)*)"|'((?:[^'\\\n]|\\.)*)'/y;
const ASSET = /@@@([\s\S]*?)@@@|@([^@\n]*)@/y;
const PATH = /<([^>\n]*)>/y;
const NUMBER = /[-+]?(?:inf|nan|(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)/y;
const WORD = /[\p{L}_][\p{L}\p{N}_:.]*/uy;

const ESCAPES: Readonly<Record<string, string>> = { n: '\n', t: '\t', r: '\r' };
const unescape = (text: string): string => text.replace(/\\(.)/gs, (_, c: string) => ESCAPES[c] ?? c);

const numberOf = (text: string): number =>
  /inf|nan/.test(text) ? (text.includes('nan') ? NaN : text.startsWith('-') ? -Infinity : Infinity) : Number(text);

/** A place in a text, with what stands there. Every reading step goes past the blanks and comments that follow. */
export class UsdText {
  private at = 0;

  constructor(private readonly text: string) {
    this.skip();
  }

  private skip(): void {
    SPACE.lastIndex = this.at;
    SPACE.test(this.text);
    this.at = SPACE.lastIndex;
  }

  private match(pattern: RegExp): RegExpExecArray | null {
    pattern.lastIndex = this.at;
    const found = pattern.exec(this.text);
    if (found) {
      this.at = pattern.lastIndex;
      this.skip();
    }
    return found;
  }

  /** Throws what is wrong here, by the number of the line. */
  fail(): never {
    const line = this.text.slice(0, this.at).split('\n').length;
    throw new DamageError(this.ended ? `it ends too early, in line ${line}` : `line ${line} is not valid USD`);
  }

  get ended(): boolean {
    return this.at >= this.text.length;
  }

  /** Whether a sign stands here. */
  is(sign: string): boolean {
    return this.text.startsWith(sign, this.at);
  }

  /** Goes past a sign, if it stands here. */
  take(sign: string): boolean {
    if (!this.is(sign)) return false;
    this.at += sign.length;
    this.skip();
    return true;
  }

  /** Goes past a sign that must stand here. @throws DamageError */
  expect(sign: string): void {
    if (!this.take(sign)) this.fail();
  }

  /** The word that stands here, empty where none does. */
  peekWord(): string {
    WORD.lastIndex = this.at;
    return WORD.exec(this.text)?.[0] ?? '';
  }

  /** Goes past a word. @throws DamageError where none stands here. */
  word(): string {
    return this.match(WORD)?.[0] ?? this.fail();
  }

  /** Goes past a word in quotation marks, or past nothing and returns null. */
  string(): string | null {
    const found = this.match(STRING);
    return found && unescape(found[1] ?? found[2] ?? found[3] ?? found[4] ?? '');
  }

  /** Goes past a value. Null stands for None. @throws DamageError */
  value(depth = 0): unknown {
    if (depth > MAX_DEPTH) this.fail();
    if (this.take('(')) return this.list(')', depth);
    if (this.take('[')) return this.list(']', depth);
    if (this.take('{')) return this.dictionary(depth);
    if (this.is('"') || this.is("'")) return this.string() ?? this.fail();
    const asset = this.match(ASSET);
    if (asset) return new UsdAsset(asset[1] ?? asset[2] ?? '', this.match(PATH)?.[1] ?? null);
    const path = this.match(PATH);
    if (path) return new UsdPath(path[1]!);
    const number = this.match(NUMBER);
    if (number) return numberOf(number[0]);
    const word = this.word();
    return word === 'None' ? null : word === 'true' ? true : word === 'false' ? false : word;
  }

  /** Values up to a sign; those of lists in it are told one after another. */
  private list(end: string, depth: number): unknown[] {
    const out: unknown[] = [];
    while (!this.take(end)) {
      if (this.ended) this.fail();
      const number = this.match(NUMBER);
      if (number) {
        out.push(numberOf(number[0]));
        continue;
      }
      const value = this.value(depth + 1);
      if (Array.isArray(value)) for (const v of value as unknown[]) out.push(v);
      else out.push(value);
    }
    return out;
  }

  /** `string a = "b"` again and again, or `0: value, 1: value`, as Samples. */
  private dictionary(depth: number): Record<string, unknown> | Samples {
    const out: Record<string, unknown> = {};
    const samples: [number, unknown][] = [];
    while (!this.take('}')) {
      if (this.ended) this.fail();
      const time = this.match(NUMBER);
      if (time) {
        this.expect(':');
        samples.push([Number(time[0]), this.value(depth + 1)]);
        continue;
      }
      const type = this.word();
      this.take('[]');
      const name = this.is('=') ? type : (this.string() ?? this.word());
      this.expect('=');
      out[name] = this.value(depth + 1);
    }
    if (samples.length === 0) return out;
    samples.sort(([a], [b]) => a - b);
    return { times: samples.map(([t]) => t), values: samples.map(([, v]) => v) };
  }
}

const each = (value: unknown): unknown[] => (Array.isArray(value) ? (value as unknown[]) : [value]);

/** Paths among what a relationship or a connection says. */
export const pathsOf = (value: unknown): string[] => each(value).flatMap((v) => (v instanceof UsdPath ? [v.path] : []));

/** Addresses among what a list of layers says. */
export const addressesOf = (value: unknown): string[] => each(value).flatMap((v) => (v instanceof UsdAsset ? [v.address] : []));

/** Places among what references or payloads say. */
export const arcsOf = (value: unknown): Arc[] =>
  each(value).flatMap((v) =>
    v instanceof UsdAsset
      ? [{ asset: v.address === '' ? null : v.address, prim: v.prim }]
      : v instanceof UsdPath
        ? [{ asset: null, prim: v.path }]
        : [],
  );

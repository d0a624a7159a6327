/**
 * Text of ISO 10303-21, the form of STEP and IFC files, as entities that are taken apart when they are
 * asked for. It is read beside the libraries for solids, for the lines that these leave out.
 */
import { DamageError } from '../format.js';

/** A reference to an entity by its number. */
export interface Ref {
  ref: number;
}
/** A value with its type named, such as LENGTH_MEASURE(25.4). */
export interface Typed {
  type: string;
  args: Value[];
}
/** Numbers, texts (enumerations without their dots), references, lists; null for $ and *. */
export type Value = number | string | null | Ref | Typed | Value[];

/** One entity, or one part of a complex one. */
export interface Entity {
  type: string;
  args: Value[];
}

/** Whether the value is a reference. */
export const isRef = (v: Value | undefined): v is Ref => typeof v === 'object' && v !== null && 'ref' in v;
const isTyped = (v: Value | undefined): v is Typed => typeof v === 'object' && v !== null && 'type' in v;
/** Whether the value is a list. */
export const isList = (v: Value | undefined): v is Value[] => Array.isArray(v);
/** A number, also where its type is named with it; `otherwise` where it is none. */
export function numberOf(v: Value | undefined, otherwise = NaN): number {
  if (typeof v === 'number') return v;
  return isTyped(v) ? numberOf(v.args[0], otherwise) : otherwise;
}
/** Numbers of the entities that the list refers to. */
export const refsIn = (v: Value | undefined): number[] => (isList(v) ? v.filter(isRef).map((r) => r.ref) : []);

/** What lists may nest: files at fault could otherwise fill the stack. */
const DEEPEST = 64;

class Scanner {
  private at = 0;

  constructor(private readonly text: string) {}

  private skip(): void {
    while (this.at < this.text.length && /\s/.test(this.text[this.at]!)) this.at++;
  }

  list(depth = 0): Value[] {
    if (depth > DEEPEST) throw new DamageError(`lists are nested more than ${DEEPEST} deep`);
    const out: Value[] = [];
    this.at++;
    for (;;) {
      this.skip();
      const c = this.text[this.at];
      if (c === undefined) throw new DamageError('a list does not end');
      if (c === ')') {
        this.at++;
        return out;
      }
      if (c === ',') this.at++;
      else out.push(this.value(depth));
    }
  }

  private take(pattern: RegExp): string {
    pattern.lastIndex = this.at;
    const found = pattern.exec(this.text)?.[0];
    if (!found) throw new DamageError(`"${this.text.slice(this.at, this.at + 20)}" is no value`);
    this.at += found.length;
    return found;
  }

  private value(depth: number): Value {
    const c = this.text[this.at]!;
    if (c === '(') return this.list(depth + 1);
    if (c === '#') return { ref: Number(this.take(/#\d+/y).slice(1)) };
    if (c === "'") return this.take(/'(?:[^']|'')*'/y).slice(1, -1);
    if (c === '.') return this.take(/\.\w+\./y).slice(1, -1);
    if (c === '$' || c === '*') {
      this.at++;
      return null;
    }
    if (c === '"') return this.take(/"[^"]*"/y);
    if (/[A-Za-z_]/.test(c)) {
      const type = this.word();
      return { type, args: this.list(depth + 1) };
    }
    return Number(this.take(/[-+]?[\d.]+(?:[Ee][-+]?\d+)?/y));
  }

  private word(): string {
    const word = this.take(/\w+/y).toUpperCase();
    this.skip();
    if (this.text[this.at] !== '(') throw new DamageError(`"${word}" has no values`);
    return word;
  }

  /** One entity, or several in brackets that make one together. */
  entities(): Entity[] {
    this.skip();
    if (this.text[this.at] !== '(') return [{ type: this.word(), args: this.list() }];
    this.at++;
    const out: Entity[] = [];
    for (;;) {
      this.skip();
      if (this.at >= this.text.length || this.text[this.at] === ')') return out;
      out.push({ type: this.word(), args: this.list() });
    }
  }
}

const [QUOTE, OPENING, CLOSING] = ["'", '(', ')'].map((c) => c.charCodeAt(0));

/** A file by ISO 10303-21; entities are parsed when they are asked for. */
export class Part21 {
  private readonly places = new Map<number, [number, number]>();
  private readonly parsed = new Map<number, Entity[]>();
  private readonly byType = new Map<string, number[]>();
  /** Where the next text begins, from where it was last looked for. */
  private quote = -1;

  /** Finds where every entity stands; a part that cannot be read is found out when it is asked for. */
  constructor(private readonly text: string) {
    const head = /\s*#(\d+)\s*=\s*(\w*)/y;
    for (let at = Math.max(0, text.indexOf('DATA;') + 5); at < text.length;) {
      const end = this.endOf(at);
      head.lastIndex = at;
      const m = head.exec(text);
      if (m) {
        const id = Number(m[1]);
        const type = m[2]!.toUpperCase();
        this.places.set(id, [at, end]);
        const list = this.byType.get(type);
        if (list) list.push(id);
        else this.byType.set(type, [id]);
      }
      at = end + 1;
    }
  }

  /** Where the statement ends that begins here. Texts may hold semicolons, so they are passed over whole. */
  private endOf(from: number): number {
    const { text } = this;
    for (let at = from; ;) {
      const end = text.indexOf(';', at);
      if (end < 0) return text.length;
      // The next text may be far off: it is looked for once, not by every statement before it.
      if (this.quote < at) this.quote = text.indexOf("'", at);
      if (this.quote < 0) this.quote = text.length;
      if (this.quote > end) return end;
      const closing = text.indexOf("'", this.quote + 1);
      if (closing < 0) return text.length;
      at = closing + 1;
    }
  }

  /** The first entity whose brackets do not close, by which damage shows; null where all do. */
  damaged(): number | null {
    const { text } = this;
    for (const [id, [from, to]] of this.places) {
      let [depth, within] = [0, false];
      for (let at = from; at < to && depth >= 0; at++) {
        const c = text.charCodeAt(at);
        if (c === QUOTE) within = !within;
        else if (!within) depth += c === OPENING ? 1 : c === CLOSING ? -1 : 0;
      }
      if (depth !== 0 || within) return id;
    }
    return null;
  }

  /** Numbers of the entities of a type; of those that are of one type alone. */
  of(type: string): number[] {
    return this.byType.get(type) ?? [];
  }

  ids(): Iterable<number> {
    return this.places.keys();
  }

  /** Everything that an entity is; none where there is no such, or where it cannot be read. */
  all(id: number): Entity[] {
    let found = this.parsed.get(id);
    if (!found) {
      const place = this.places.get(id);
      found = [];
      if (place) {
        const line = this.text.slice(...place);
        try {
          found = new Scanner(line.slice(line.indexOf('=') + 1)).entities();
        } catch {
          // A line at fault says nothing; what hangs on it is left out.
        }
      }
      this.parsed.set(id, found);
    }
    return found;
  }

  get(id: number): Entity | null {
    return this.all(id)[0] ?? null;
  }

  /** One of the things that an entity is. */
  as(id: number, type: string): Entity | null {
    return this.all(id).find((e) => e.type === type) ?? null;
  }
}

/** Powers of ten of the SI prefixes that lengths come in. */
const PREFIXES: Record<string, number> = { MICRO: 1e-6, MILLI: 1e-3, CENTI: 1e-2, DECI: 1e-1, DECA: 10, HECTO: 100, KILO: 1e3 };

/** Metres, or radians, in a unit's entity; null where it is of another quantity. `prefix` is that of the entities' names. */
export function sizeOfUnit(file: Part21, id: number, depth = 0): { quantity: 'length' | 'angle'; size: number } | null {
  const parts = file.all(id).map((e) => ({ ...e, type: e.type.replace(/^IFC/, '').replaceAll('_', '') }));
  const words = parts.flatMap((e) => [e.type, ...e.args.filter((a) => typeof a === 'string').map((a) => a.replaceAll('_', ''))]);
  const quantity = words.includes('LENGTHUNIT') ? 'length' : words.includes('PLANEANGLEUNIT') ? 'angle' : null;
  if (!quantity || depth > 8) return null;
  const converted = parts.find((e) => e.type === 'CONVERSIONBASEDUNIT');
  if (converted) {
    const measure = converted.args.filter(isRef).map((r) => file.all(r.ref).find((e) => /MEASURE_?WITH_?UNIT$/.test(e.type)));
    const found = measure.find((e) => e !== undefined);
    const base = found && isRef(found.args[1]) ? sizeOfUnit(file, found.args[1].ref, depth + 1) : null;
    return found && base ? { quantity, size: numberOf(found.args[0], 1) * base.size } : null;
  }
  const si = parts.find((e) => e.type === 'SIUNIT');
  if (!si) return null;
  const prefix = si.args.find((a) => typeof a === 'string' && a in PREFIXES) as string | undefined;
  return { quantity, size: prefix ? PREFIXES[prefix]! : 1 };
}

/** Reads the text form of USD layers (AOUSD Core Specification 1.0, 16.2). */
import { emptyPrim, type Layer, type Prim, type Property, type Samples } from './layer.js';
import { addressesOf, arcsOf, pathsOf, UsdAsset, UsdText } from './values.js';

/** Prims within each other, at most: what is damaged must not exhaust the stack. */
const MAX_DEPTH = 500;
const SPECIFIERS = ['def', 'over', 'class'] as const;
const LIST_EDITS = ['prepend', 'append', 'add', 'delete', 'reorder'];
const QUALIFIERS = ['custom', 'uniform', 'varying', 'config'];

/** (w, x, y, z) as written, one after another, as (x, y, z, w). */
const turned = (numbers: unknown[]): unknown[] => numbers.map((_, i) => numbers[i % 4 === 3 ? i - 3 : i + 1]);

/** A value of an attribute as the rest of the readers want it. */
function plain(value: unknown, type: string): unknown {
  if (value instanceof UsdAsset) return value.address;
  if (Array.isArray(value) && type.startsWith('quat') && value.length % 4 === 0) return turned(value as unknown[]);
  return value;
}

/** `(key = value …)`, if it stands here. What is deleted or put into another order is not told. */
function metadata(text: UsdText): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  if (!text.take('(')) return out;
  while (!text.take(')')) {
    if (text.string() !== null) continue;
    let key = text.word();
    const edit = LIST_EDITS.includes(key) ? key : null;
    if (edit) key = text.word();
    text.expect('=');
    const value = text.value();
    if (edit === 'delete' || edit === 'reorder') continue;
    const earlier = out[key];
    // Prepended items are the stronger ones.
    if (edit && earlier !== undefined) out[key] = edit === 'prepend' ? [value, earlier].flat() : [earlier, value].flat();
    else out[key] = value;
  }
  return out;
}

function applyMetadata(prim: Prim, said: Record<string, unknown>): void {
  prim.active = said.active !== false;
  prim.references = arcsOf(said.references ?? []);
  prim.payloads = arcsOf(said.payload ?? []);
  prim.inherits = pathsOf(said.inherits ?? []);
  prim.specializes = pathsOf(said.specializes ?? []);
  for (const [set, variant] of Object.entries((said.variants ?? {}) as Record<string, unknown>)) prim.selection[set] = String(variant);
}

/** A property; its parts may come one after another, such as its value and its connection. */
function property(text: UsdText, prim: Prim): void {
  let word = text.word();
  let edit = '';
  while (LIST_EDITS.includes(word) || QUALIFIERS.includes(word)) {
    if (LIST_EDITS.includes(word)) edit = word;
    word = text.word();
  }
  if (edit === 'reorder') {
    if (text.take('=')) text.value();
    return;
  }
  const isRelationship = word === 'rel';
  const type = isRelationship ? '' : word + (text.take('[]') ? '[]' : '');
  const full = text.word();
  const [name, part] = [full.replace(/\.(timeSamples|connect|default|spline)$/, ''), /\.(timeSamples|connect|default|spline)$/.exec(full)?.[1]];
  const value = text.take('=') ? text.value() : undefined;
  const said = metadata(text);
  if (edit === 'delete') return;
  const kept: Property = prim.properties.get(name) ?? { kind: isRelationship ? 'relationship' : 'attribute', type, metadata: {} };
  Object.assign(kept.metadata, said);
  if (isRelationship) {
    if (value !== undefined) kept.targets = [...(edit ? (kept.targets ?? []) : []), ...pathsOf(value)];
  } else if (part === 'connect') kept.connections = pathsOf(value);
  else if (part === 'timeSamples') {
    const { times = [], values = [] } = (value ?? {}) as Partial<Samples>;
    kept.samples = { times, values: values.map((v) => plain(v, type)) };
  } else if (value !== undefined && value !== null && part !== 'spline') kept.value = plain(value, type);
  prim.properties.set(name, kept);
}

function variantSet(text: UsdText, prim: Prim, depth: number): void {
  const name = text.string() ?? text.fail();
  text.expect('=');
  text.expect('{');
  const set = prim.variants.get(name) ?? new Map<string, Prim>();
  prim.variants.set(name, set);
  while (!text.take('}')) {
    const variant = emptyPrim();
    set.set(text.string() ?? text.fail(), variant);
    applyMetadata(variant, metadata(text));
    body(text, variant, depth + 1);
  }
}

/** What stands in braces: properties, prims and sets of variants. */
function body(text: UsdText, prim: Prim, depth: number): void {
  text.expect('{');
  while (!text.take('}')) inside(text, prim, depth);
}

function inside(text: UsdText, prim: Prim, depth: number): void {
  if (depth > MAX_DEPTH) text.fail();
  const specifier = SPECIFIERS.find((s) => s === text.peekWord());
  if (specifier) {
    text.word();
    const type = text.is('"') || text.is("'") ? '' : text.word();
    const name = text.string() ?? text.fail();
    const child = emptyPrim(specifier, type);
    applyMetadata(child, metadata(text));
    body(text, child, depth + 1);
    prim.children.set(name, child);
  } else if (text.peekWord() === 'variantSet') {
    text.word();
    variantSet(text, prim, depth);
  } else property(text, prim);
}

/** Reads a layer. @throws DamageError with the line that cannot be read. */
export function readText(source: string): Layer {
  const text = new UsdText(source);
  const said = metadata(text);
  const root = emptyPrim('def');
  while (!text.ended) inside(text, root, 0);
  return { metadata: said, sublayers: addressesOf(said.subLayers ?? []), root };
}

/** Opens the layers of a USD file: text, binary, or an archive of several, with those that were given beside it. */
import { USDCParser } from 'three/examples/jsm/loaders/usd/USDCParser.js';
import { DamageError, extensionOf, ModelError, type SourceFile } from '../format.js';
import { isZip, openZip } from '../scene/zip.js';
import type { Opened, OpenLayer } from './compose.js';
import { emptyPrim, type Layer, type Prim, type Samples } from './layer.js';
import type { Spec } from './specs.js';
import { readText } from './text.js';

const CRATE = 'PXR-USDC';
const isCrate = (bytes: Uint8Array): boolean => new TextDecoder('latin1').decode(bytes.subarray(0, CRATE.length)) === CRATE;

/** Endings of layers. */
export const LAYERS = ['usd', 'usda', 'usdc'];

/** A layer in the binary form, as its parser tells it: a list of specs by their paths, variants in braces. */
function layerOfSpecs(specs: Record<string, Spec>): Layer {
  const root = emptyPrim('def');
  const at = (path: string): Prim => {
    let prim = root;
    for (const [, set, variant, name] of path.matchAll(/\{([^=}]*)=([^}]*)\}|([^/{}]+)/g)) {
      if (name !== undefined) {
        if (!prim.children.has(name)) prim.children.set(name, emptyPrim());
        prim = prim.children.get(name)!;
      } else if (variant !== '') {
        if (!prim.variants.has(set!)) prim.variants.set(set!, new Map());
        const variants = prim.variants.get(set!)!;
        if (!variants.has(variant!)) variants.set(variant!, emptyPrim());
        prim = variants.get(variant!)!;
      }
    }
    return prim;
  };
  for (const [path, { specType, fields }] of Object.entries(specs)) {
    if (path === '/' || path.endsWith('=}')) continue;
    const dot = path.indexOf('.', path.lastIndexOf('/'));
    const { typeName, ...more } = fields;
    if (specType === 1 || specType === 8) {
      if (dot < 0) continue;
      const { default: value, timeSamples, connectionPaths, targetPaths, ...metadata } = more;
      at(path.slice(0, dot)).properties.set(path.slice(dot + 1), {
        kind: specType === 1 ? 'attribute' : 'relationship',
        type: String(typeName ?? ''),
        ...(value !== undefined && value !== null && { value }),
        ...(timeSamples !== undefined && { samples: timeSamples as Samples }),
        ...(Array.isArray(connectionPaths) && { connections: connectionPaths as string[] }),
        ...(Array.isArray(targetPaths) && { targets: targetPaths as string[] }),
        metadata,
      });
      continue;
    }
    const prim = at(path);
    prim.type = String(typeName ?? '');
    prim.specifier = (['def', 'over', 'class'] as const)[Number(more.specifier ?? 1)] ?? 'over';
    prim.active = more.active !== false;
    Object.assign(prim.selection, more.variantSelection);
  }
  const { subLayers, ...metadata } = specs['/']?.fields ?? {};
  return { metadata, sublayers: Array.isArray(subLayers) ? (subLayers as string[]) : [], root };
}

/** @param archive that the layer is in, if it is in one: people know that by its name. */
function parse({ name, bytes }: SourceFile, archive: string | null): Layer {
  try {
    if (isCrate(bytes)) return layerOfSpecs(new USDCParser().parseData(bytes.slice().buffer).specsByPath as Record<string, Spec>);
    return readText(new TextDecoder().decode(bytes));
  } catch (e) {
    if (!(e instanceof DamageError) && !(e instanceof RangeError) && !(e instanceof TypeError)) throw e;
    const what = e instanceof DamageError ? e.message : 'its tables lead nowhere';
    throw new ModelError(`"${archive ?? name}" is damaged: ${archive === null ? '' : `in "${name}" `}${what}. Export or copy it again.`);
  }
}

/** An address against the folder of the layer that has it, without `.` and `..`. */
export function resolvePath(address: string, from: string): string {
  const out: string[] = /^[/\\]/.test(address) ? [] : from.split('/').slice(0, -1);
  for (const part of address.replaceAll('\\', '/').split('/')) {
    if (part === '..') out.pop();
    else if (part !== '.' && part !== '') out.push(part);
  }
  return out.join('/');
}

/** The layers and images of a model. */
export interface Files {
  root: Opened;
  open: OpenLayer;
  /** An image by its resolved path, else by its bare name; null where it was not given. */
  image(path: string): SourceFile | null;
}

const nameOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1).toLowerCase();

/** Sets addresses of images against their layer: where they are used, nobody knows any more which layer that was. */
function settleAddresses(prim: Prim, address: string): void {
  for (const property of prim.properties.values())
    if (property.type === 'asset' && typeof property.value === 'string') property.value = resolvePath(property.value, address);
  for (const child of prim.children.values()) settleAddresses(child, address);
  for (const set of prim.variants.values()) for (const variant of set.values()) settleAddresses(variant, address);
}

/** Opens a model with the files that came beside it. @throws ModelError */
export function openFiles(file: SourceFile, companions: SourceFile[]): Files {
  const inside = isZip(file.bytes) ? Object.entries(openZip(file, () => true)).map(([name, bytes]) => ({ name, bytes })) : [file];
  // The first file of an archive is the root layer (Core Specification, 16.4.1.2).
  const first = inside[0];
  if (!first || !LAYERS.includes(extensionOf(first.name)) || first.bytes.length === 0) {
    if (first !== file) throw new ModelError(`"${file.name}" does not begin with a USD layer; export it again.`);
  }
  const all = [...inside, ...companions];
  // In an archive paths are whole; files that were given beside a model have lost their folders.
  const find = (path: string): SourceFile | null => all.find((f) => f.name === path) ?? all.find((f) => nameOf(f.name) === nameOf(path)) ?? null;
  const layers = new Map<SourceFile, Opened>();
  const opened = (source: SourceFile): Opened => {
    let layer = layers.get(source);
    if (!layer) {
      layer = { address: source.name, layer: parse(source, source !== file && inside.includes(source) ? file.name : null) };
      settleAddresses(layer.layer.root, source.name);
      layers.set(source, layer);
    }
    return layer;
  };
  return {
    root: opened(first!),
    open: (address, from) => {
      const source = find(resolvePath(address, from));
      return source && LAYERS.includes(extensionOf(source.name)) ? opened(source) : null;
    },
    image: find,
  };
}

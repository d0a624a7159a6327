/**
 * Composes layers to one tree without references (AOUSD Core Specification 1.0, chapter 10): local opinions are the
 * strongest, then inherits, variants, references, payloads and specializes.
 */
import { type Arc, emptyPrim, type Layer, type Prim, primAt, type Property } from './layer.js';

/** Prims of a file with those that references bring, at most. */
const MAX_PRIMS = 200_000;
/** References, and layers under layers, within each other, at most. */
const MAX_DEPTH = 64;

/** A layer with its address, which others in it are written against. */
export interface Opened {
  address: string;
  layer: Layer;
}

/** Opens the layer of that address, as written in the layer at `from`; null where it was not given. */
export type OpenLayer = (address: string, from: string) => Opened | null;

/** What composing met that it could not follow. */
export interface Lost {
  /** Addresses of layers that were not given. */
  layers: Set<string>;
  /** Paths of prims that are not there. */
  prims: Set<string>;
  /** Whether references went round in a circle. */
  endless: boolean;
  /** Whether references of some prims were not followed, since there were too many. */
  tooMany: boolean;
}

/** Layers that are stacked on each other, as one tree: where paths without an address lead. */
interface Stack {
  address: string;
  layer: Layer;
  root: Prim;
}

const rebased = (path: string, from: string, to: string): string =>
  path === from || path.startsWith(`${from}/`) || path.startsWith(`${from}.`) ? to + path.slice(from.length) : path;

/** A copy of a property whose paths below `from` lead below `to`. */
function propertyBelow(property: Property, from: string, to: string): Property {
  const { targets, connections } = property;
  return {
    ...property,
    ...(targets && { targets: targets.map((p) => rebased(p, from, to)) }),
    ...(connections && { connections: connections.map((p) => rebased(p, from, to)) }),
  };
}

/** A property with what a weaker opinion has beside it. */
function overlaid(strong: Property, weak: Property): Property {
  const { value, ...rest } = weak;
  // Values at times are a value too: what the weaker one says for all times does not show through.
  return {
    ...rest,
    ...(strong.samples === undefined && value !== undefined && { value }),
    ...strong,
    metadata: { ...weak.metadata, ...strong.metadata },
  };
}

/** Adds a weaker prim's opinions to a stronger one, in place; lists of arcs are the stronger ones' first. */
function addWeaker(strong: Prim, weak: Prim): void {
  if (strong.specifier === 'over') strong.specifier = weak.specifier;
  strong.type ||= weak.type;
  strong.active &&= weak.active;
  for (const key of ['references', 'payloads'] as const) strong[key] = [...strong[key], ...weak[key]];
  for (const key of ['inherits', 'specializes'] as const) strong[key] = [...strong[key], ...weak[key]];
  strong.selection = { ...weak.selection, ...strong.selection };
  for (const [name, property] of weak.properties) {
    const kept = strong.properties.get(name);
    strong.properties.set(name, kept ? overlaid(kept, property) : property);
  }
  for (const [set, variants] of weak.variants) {
    const kept = strong.variants.get(set) ?? new Map<string, Prim>();
    for (const [name, variant] of variants) addChild(kept, name, variant);
    strong.variants.set(set, kept);
  }
  for (const [name, child] of weak.children) addChild(strong.children, name, child);
}

function addChild(children: Map<string, Prim>, name: string, weak: Prim): void {
  const kept = children.get(name);
  if (kept) addWeaker(kept, weak);
  else children.set(name, copyOf(weak));
}

/** A copy that can be added to; properties are shared. */
function copyOf(prim: Prim): Prim {
  const copies = (of: Map<string, Prim>): Map<string, Prim> => new Map([...of].map(([name, p]) => [name, copyOf(p)]));
  return {
    ...prim,
    references: [...prim.references],
    payloads: [...prim.payloads],
    inherits: [...prim.inherits],
    specializes: [...prim.specializes],
    selection: { ...prim.selection },
    properties: new Map(prim.properties),
    children: copies(prim.children),
    variants: new Map([...prim.variants].map(([set, variants]) => [set, copies(variants)])),
  };
}

/** Moves all paths of a tree that lead below `from` to below `to`. */
function moveBelow(prim: Prim, from: string, to: string): void {
  if (from === to) return;
  for (const [name, property] of prim.properties) prim.properties.set(name, propertyBelow(property, from, to));
  for (const child of prim.children.values()) moveBelow(child, from, to);
}

class Composer {
  readonly lost: Lost = { layers: new Set(), prims: new Set(), endless: false, tooMany: false };
  private readonly stacks = new Map<string, Stack>();
  private prims = 0;
  /** What is being followed, so that a circle is seen. */
  private readonly followed = new Set<string>();

  constructor(private readonly open: OpenLayer) {}

  /** The prims of a layer with all that they refer to. */
  whole(opened: Opened): Prim {
    const stack = this.stack(opened);
    const root = copyOf(stack.root);
    this.below(root, '', stack, null);
    return { ...emptyPrim('def'), children: root.children };
  }

  /** A layer with those under it. */
  private stack({ address, layer }: Opened, depth = 0): Stack {
    const known = this.stacks.get(address);
    if (known) return known;
    const stack: Stack = { address, layer, root: copyOf(layer.root) };
    this.stacks.set(address, stack);
    if (depth > MAX_DEPTH) this.lost.endless = true;
    else
      for (const below of layer.sublayers) {
        const opened = this.openLayer(below, address);
        if (opened && opened.address !== address) addWeaker(stack.root, this.stack(opened, depth + 1).root);
      }
    return stack;
  }

  private openLayer(address: string, from: string): Opened | null {
    const opened = this.open(address, from);
    if (!opened) this.lost.layers.add(address);
    return opened;
  }

  /** Follows what a prim takes from elsewhere, and all below it; `strong` are opinions of those who refer to it. */
  private compose(prim: Prim, path: string, stack: Stack, strong: Prim | null): void {
    if (++this.prims > MAX_PRIMS) {
      this.lost.tooMany = true;
      return;
    }
    // What the stronger ones chose is chosen further down too.
    prim.selection = { ...prim.selection, ...strong?.selection };
    for (const target of prim.inherits.splice(0)) this.take(prim, path, { asset: null, prim: target }, stack);
    for (const [set, variants] of prim.variants) {
      const chosen = prim.selection[set] ?? [...variants.keys()][0];
      const variant = chosen === undefined ? undefined : variants.get(chosen);
      // Sets within it are gone through after those that are there.
      if (variant) addWeaker(prim, variant);
    }
    prim.variants.clear();
    for (const arc of [...prim.references.splice(0), ...prim.payloads.splice(0)]) this.take(prim, path, arc, stack);
    for (const target of prim.specializes.splice(0)) this.take(prim, path, { asset: null, prim: target }, stack);
    this.below(prim, path, stack, strong);
  }

  /** Follows what the children of a prim take from elsewhere; those that are switched off are gone. */
  private below(prim: Prim, path: string, stack: Stack, strong: Prim | null): void {
    for (const [name, child] of prim.children) {
      if (!child.active) prim.children.delete(name);
      else this.compose(child, `${path}/${name}`, stack, strong?.children.get(name) ?? null);
    }
  }

  /** Adds what stands at the other end of an arc, composed there, as weaker opinions. */
  private take(prim: Prim, path: string, arc: Arc, stack: Stack): void {
    const opened = arc.asset === null ? stack : this.openLayer(arc.asset, stack.address);
    if (!opened) return;
    const there = arc.asset === null ? stack : this.stack(opened);
    const first = [...there.layer.root.children.keys()][0];
    const named = typeof there.layer.metadata.defaultPrim === 'string' ? there.layer.metadata.defaultPrim : first;
    const target = arc.prim ?? (named === undefined ? null : `/${named.replace(/^\//, '')}`);
    const source = target === null ? null : primAt(there.root, target);
    if (target === null || !source) {
      this.lost.prims.add(arc.prim ?? arc.asset ?? path);
      return;
    }
    const place = `${there.address}<${target}>`;
    if (this.followed.has(place) || this.followed.size >= MAX_DEPTH) {
      this.lost.endless = true;
      return;
    }
    this.followed.add(place);
    const copy = copyOf(source);
    this.compose(copy, target, there, prim);
    this.followed.delete(place);
    moveBelow(copy, target, path);
    // What was abstract there is used here.
    if (copy.specifier === 'class') copy.specifier = 'def';
    addWeaker(prim, copy);
  }
}

/** Composes a layer with all that it refers to. */
export function compose(root: Opened, open: OpenLayer): { root: Prim; lost: Lost } {
  const composer = new Composer(open);
  return { root: composer.whole(root), lost: composer.lost };
}

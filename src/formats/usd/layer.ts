/** What a USD layer holds, whichever way it was written (AOUSD Core Specification 1.0, chapters 7 to 10). */

/** Values at times, in the order of the times. */
export interface Samples {
  times: number[];
  values: unknown[];
}

/** An attribute or a relationship. Vectors, quaternions (x, y, z, w) and matrices are flat lists of numbers. */
export interface Property {
  kind: 'attribute' | 'relationship';
  /** Name of the type of an attribute, such as `point3f[]`; empty for a relationship. */
  type: string;
  value?: unknown;
  samples?: Samples;
  /** Paths of the attributes that it takes its value from. */
  connections?: string[];
  /** Paths that a relationship points to. */
  targets?: string[];
  metadata: Record<string, unknown>;
}

/** A place that a prim takes its opinions from. */
export interface Arc {
  /** Address of the layer; null for the one that the prim is in. */
  asset: string | null;
  /** Path of the prim there; null for the layer's default one. */
  prim: string | null;
}

/** A prim with all below it. */
export interface Prim {
  specifier: 'def' | 'over' | 'class';
  type: string;
  active: boolean;
  references: Arc[];
  payloads: Arc[];
  inherits: string[];
  specializes: string[];
  /** Chosen variant by the name of its set. */
  selection: Record<string, string>;
  properties: Map<string, Property>;
  children: Map<string, Prim>;
  /** Variants by their sets. */
  variants: Map<string, Map<string, Prim>>;
}

/** A layer: what it says of the whole, and its prims. */
export interface Layer {
  metadata: Record<string, unknown>;
  sublayers: string[];
  root: Prim;
}

/** A prim that says nothing yet. */
export const emptyPrim = (specifier: Prim['specifier'] = 'over', type = ''): Prim => ({
  specifier,
  type,
  active: true,
  references: [],
  payloads: [],
  inherits: [],
  specializes: [],
  selection: {},
  properties: new Map(),
  children: new Map(),
  variants: new Map(),
});

/** The prim at a path such as `/A/B` below a root; null where there is none. */
export function primAt(root: Prim, path: string): Prim | null {
  let prim: Prim | undefined = root;
  for (const name of path.split('/').filter((n) => n !== '')) prim = prim?.children.get(name);
  return prim ?? null;
}

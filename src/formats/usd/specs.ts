/** A composed tree as three's composer of USD wants it: specs by their paths. */
import type { Prim, Property } from './layer.js';

/** Kinds of specs, by the numbers of the binary form. */
const ATTRIBUTE = 1;
const PRIM = 6;
const RELATIONSHIP = 8;

/** A spec as three's parsers make it. */
export interface Spec {
  specType: number;
  fields: Record<string, unknown>;
}

function specOf({ kind, type, value, samples, connections, targets, metadata }: Property): Spec {
  if (kind === 'relationship') return { specType: RELATIONSHIP, fields: { targetPaths: targets ?? [], ...metadata } };
  return {
    specType: ATTRIBUTE,
    fields: {
      typeName: type,
      ...(value !== undefined && { default: value }),
      ...(samples && { timeSamples: samples }),
      ...(connections && { connectionPaths: connections }),
      ...metadata,
    },
  };
}

/**
 * Specs of a tree.
 * @param metadata of the root layer: unit and up axis.
 * @param needed paths of prims that are instanced: they are told even where they are not defined to be seen.
 */
export function specsOf(root: Prim, metadata: Record<string, unknown>, needed: ReadonlySet<string>): Record<string, Spec> {
  const specs: Record<string, Spec> = { '/': { specType: PRIM, fields: metadata } };
  const isOnTheWay = (path: string): boolean => [...needed].some((n) => n === path || n.startsWith(`${path}/`));
  const add = (prim: Prim, path: string, isNeeded: boolean): void => {
    for (const [name, child] of prim.children) {
      const at = `${path}/${name}`;
      const below = isNeeded || needed.has(at);
      if (child.specifier !== 'def' && !below && !isOnTheWay(at)) continue;
      specs[at] = { specType: PRIM, fields: { typeName: child.type } };
      for (const [property, said] of child.properties) specs[`${at}.${property}`] = specOf(said);
      add(child, at, below);
    }
  };
  add(root, '', false);
  return specs;
}

/** Edits of a dressing that the interface makes. */
import { type DressingChoice, dressingSchema } from './dressing.js';

type PartValues = Omit<DressingChoice['parts'][number], 'path'>;

export const UNDRESSED: DressingChoice = dressingSchema.parse({});

/** Sets values of parts by path; `undefined` takes one back. What says nothing any more is left out. */
export function withParts(dressing: DressingChoice | undefined, paths: Iterable<string>, values: PartValues): DressingChoice {
  const base = dressing ?? UNDRESSED;
  const byPath = new Map(base.parts.map((p) => [p.path, p]));
  for (const path of paths) {
    const next = { ...byPath.get(path), ...values, path };
    if (next.picture === undefined && next.desk === undefined && next.finish === undefined) byPath.delete(path);
    else byPath.set(path, next);
  }
  return { ...base, parts: [...byPath.values()] };
}

/** Everything that wears `from` wears `to`; on top of the variant that is worn, where one is. Back to `from` takes the swap out. */
export function withSwap(dressing: DressingChoice | undefined, from: string, to: string): DressingChoice {
  const base = dressing ?? UNDRESSED;
  const put = (swaps: DressingChoice['swaps']): DressingChoice['swaps'] => [
    ...swaps.filter((s) => s.from !== from),
    ...(from === to ? [] : [{ from, to }]),
  ];
  if (base.variant === undefined) return { ...base, swaps: put(base.swaps) };
  return { ...base, variants: base.variants.map((v) => (v.id === base.variant ? { ...v, swaps: put(v.swaps) } : v)) };
}

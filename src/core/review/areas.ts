/** Connected areas of a mask. */

/** A changed area: its box in pixels, how many pixels of it changed, and the largest difference in it. */
export interface ChangedArea {
  x: number;
  y: number;
  width: number;
  height: number;
  pixels: number;
  largest: number;
}

/** Areas of fewer pixels are single bright samples, which a mean over 3 × 3 pixels spreads over 9. */
export const MIN_AREA = 10;
/** Pixels apart up to which two areas are one. */
const REACH = 4;

/** Changed pixels side by side in a row: `from` to `to`, and the run that stands for all that hang together. */
class Runs {
  readonly row: number[] = [];
  readonly from: number[] = [];
  readonly to: number[] = [];
  private readonly parent: number[] = [];

  add(row: number, from: number, to: number): void {
    this.parent.push(this.row.length);
    this.row.push(row);
    this.from.push(from);
    this.to.push(to);
  }

  /** The first run of its area. */
  root(i: number): number {
    while (this.parent[i] !== i) {
      this.parent[i] = this.parent[this.parent[i]!]!;
      i = this.parent[i]!;
    }
    return i;
  }

  join(i: number, k: number): void {
    const [a, b] = [this.root(i), this.root(k)];
    if (a < b) this.parent[b] = a;
    else this.parent[a] = b;
  }
}

/** The first place from `from` on that holds a value; the end where none does. The array's own search is several times as fast as a loop. */
function placeOf(mask: Uint8Array, value: 0 | 1, from: number): number {
  const at = mask.indexOf(value, from);
  return at < 0 ? mask.length : at;
}

/** All runs of the mask, joined where pixels of them are within REACH, across and upright. */
function runsOf(mask: Uint8Array, width: number, height: number): Runs {
  const runs = new Runs();
  // Where the runs of each row begin in the list.
  const begin = new Int32Array(height + 1);
  let next = placeOf(mask, 1, 0);
  let past = 0;
  for (let y = 0; y < height; y++) {
    begin[y] = runs.row.length;
    const rowEnd = (y + 1) * width;
    while (next < rowEnd) {
      if (past <= next) past = placeOf(mask, 0, next);
      const stop = Math.min(past, rowEnd);
      runs.add(y, next - y * width, stop - 1 - y * width);
      next = stop < past ? stop : placeOf(mask, 1, stop);
    }
    begin[y + 1] = runs.row.length;
    const [first, end] = [begin[y]!, begin[y + 1]!];
    for (let i = first + 1; i < end; i++) if (runs.from[i]! - runs.to[i - 1]! <= REACH) runs.join(i - 1, i);
    for (let above = Math.max(0, y - REACH); above < y; above++) {
      for (let i = first, k = begin[above]!; i < end && k < begin[above + 1]!;) {
        if (runs.from[i]! - runs.to[k]! > REACH) k++;
        else if (runs.from[k]! - runs.to[i]! > REACH) i++;
        else {
          runs.join(k, i);
          // The one that ends first meets nothing further.
          if (runs.to[k]! < runs.to[i]!) k++;
          else i++;
        }
      }
    }
  }
  return runs;
}

/**
 * Areas of the mask that are at least MIN_AREA large, most pixels first; smaller ones are taken off the mask, in place.
 * @param mask 1 where changed. @param values differences by pixel.
 */
export function findAreas(mask: Uint8Array, values: Float32Array, width: number, height: number): ChangedArea[] {
  const runs = runsOf(mask, width, height);
  const areas = new Map<number, ChangedArea>();
  for (let i = 0; i < runs.row.length; i++) {
    const [y, from, to] = [runs.row[i]!, runs.from[i]!, runs.to[i]!];
    let largest = 0;
    for (let at = y * width + from, end = y * width + to; at <= end; at++) if (values[at]! > largest) largest = values[at]!;
    const root = runs.root(i);
    const known = areas.get(root);
    if (!known) {
      areas.set(root, { x: from, y, width: to - from + 1, height: 1, pixels: to - from + 1, largest });
      continue;
    }
    const right = Math.max(known.x + known.width, to + 1);
    known.x = Math.min(known.x, from);
    known.width = right - known.x;
    known.height = y - known.y + 1;
    known.pixels += to - from + 1;
    known.largest = Math.max(known.largest, largest);
  }
  for (let i = 0; i < runs.row.length; i++) {
    const start = runs.row[i]! * width;
    if (areas.get(runs.root(i))!.pixels < MIN_AREA) mask.fill(0, start + runs.from[i]!, start + runs.to[i]! + 1);
  }
  return [...areas.values()].filter((a) => a.pixels >= MIN_AREA).sort((a, b) => b.pixels - a.pixels);
}

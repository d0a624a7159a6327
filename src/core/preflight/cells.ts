/** Pixels of a probe that show something, in little room: a frame is drawn over with them. */

/** A grid of pixels that are on or off, as runs. */
export interface Cells {
  /** Pixels across; rows follow one another from the upper left. */
  width: number;
  height: number;
  /** How many pixels in a row are off, then on, then off … */
  runs: number[];
}

/** The pixels of which something holds. @param count of all pixels, a whole number of rows. */
export function cellsWhere(width: number, count: number, holds: (i: number) => boolean): Cells {
  const runs: number[] = [];
  let [isOn, length] = [false, 0];
  for (let i = 0; i < count; i++) {
    if (holds(i) !== isOn) {
      runs.push(length);
      [isOn, length] = [!isOn, 0];
    }
    length++;
  }
  if (isOn) runs.push(length);
  return { width, height: count / width, runs };
}

/** Left, top, width and height in shares of the frame, one a run in a row; equal ones below each other are joined. */
export function cellBoxes({ width, height, runs }: Cells): { x: number; y: number; width: number; height: number }[] {
  const boxes: { x: number; y: number; width: number; height: number }[] = [];
  let at = 0;
  runs.forEach((length, k) => {
    for (let from = at; k % 2 === 1 && from < at + length; from += width - (from % width)) {
      const [x, y] = [from % width, Math.floor(from / width)];
      const across = Math.min(at + length - from, width - x);
      const above = boxes.findLast((b) => b.x === x && b.width === across && b.y + b.height === y);
      if (above) above.height++;
      else boxes.push({ x, y, width: across, height: 1 });
    }
    at += length;
  });
  return boxes.map((b) => ({ x: b.x / width, y: b.y / height, width: b.width / width, height: b.height / height }));
}

/** What is to be said of the areas that a section reveal cuts, frame by frame. */

/** A cut of less than this share of the largest is a sliver: it flickers and shows nothing. */
const MIN_AREA_SHARE = 0.02;
/** Runs of no more than this share of the frames are passed over: a reveal may well begin or end with the whole. */
const MIN_RUN_FRAMES = 0.1;

/** First and last of runs of places at which something holds for longer than briefly, counted from 1. */
function runs(list: readonly boolean[], moves: (i: number) => boolean): [number, number][] {
  const out: [number, number][] = [];
  list.forEach((holds, i) => {
    const last = out.at(-1);
    if (!holds) return;
    if (last && last[1] === i) last[1] = i + 1;
    else out.push([i + 1, i + 1]);
  });
  const moving = ([a, b]: [number, number]): number => list.slice(a - 1, b).filter((_, k) => moves(a - 1 + k)).length;
  return out.filter((run) => moving(run) > MIN_RUN_FRAMES * list.length);
}

const frames = ([a, b]: [number, number]): string => (a === b ? `frame ${a}` : `frames ${a} to ${b}`);

/** Numbers of frames where only every so many were cut: those between go with the one before them. */
const describeFrames = ([a, b]: [number, number], every: number): [number, number] => [(a - 1) * every + 1, b * every];

/** Sentences for the start, the end and slivers; none where every frame cuts well. Areas in m², one a frame, or one for `every` so many; offsets are the plane's. */
export function revealWarnings(areas: readonly number[], every = 1, offsets: readonly number[] = areas.map((_, i) => i)): string[] {
  // A plane that is held where it cuts nothing is held on purpose.
  const moves = (i: number): boolean => (i === 0 ? offsets[1] !== offsets[0] : offsets[i] !== offsets[i - 1]);
  const most = Math.max(0, ...areas);
  if (areas.length === 0) return [];
  if (!(most > 0)) return ['The plane cuts nothing solid in any frame; move its stations, or cut away another side.'];
  const out: string[] = [];
  for (const run of runs(
    areas.map((a) => a === 0),
    moves,
  )) {
    if (run[0] === 1) out.push(`Nothing is cut yet in ${frames(describeFrames(run, every))}: move the first station to where the solid begins.`);
    else if (run[1] === areas.length) out.push(`Nothing is cut in ${frames(describeFrames(run, every))}: the last station is beyond the solid.`);
    else out.push(`Nothing is cut in ${frames(describeFrames(run, every))}: the plane passes between parts.`);
  }
  const isSliver = (a: number): boolean => a > 0 && a < MIN_AREA_SHARE * most;
  const slivers = runs(areas.map(isSliver), moves);
  // An end is looked at longer than what lies between: one frame of it counts.
  const [first, last] = [areas[0]!, areas.at(-1)!];
  if (isSliver(first) && slivers[0]?.[0] !== 1)
    out.push('The first frame cuts a sliver: the plane starts just below a surface. Move the first station clear of it, or further in.');
  if (areas.length > 1 && isSliver(last) && slivers.at(-1)?.[1] !== areas.length)
    out.push('The last frame cuts a sliver: the plane does not clear the subject. Move the last station beyond it, or back.');
  for (const run of slivers)
    out.push(
      `Slivers in ${frames(describeFrames(run, every))}: less than ${100 * MIN_AREA_SHARE} % of the largest cut, ${Number(most.toPrecision(3))} m².`,
    );
  return out;
}

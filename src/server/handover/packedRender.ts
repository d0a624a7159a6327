/** Where a render stands in a package, and what its file tells of how it was made. */
import path from 'node:path';
import { type Frame, shotIdOfOutput } from '../../core/frame/frame.js';
import { compileNamePattern, withTokens } from '../../core/plan/fileNames.js';
import type { SetFile } from '../../core/plan/set.js';
import { shotName } from '../../core/shots/kinds.js';
import type { PlanContext } from '../../core/planning/planFrames.js';
import type { FrameSun } from '../../core/stage/daylight.js';
import type { FileDescription } from '../../engine/output/encodeFiles.js';
import type { RenderFacts } from '../../formats/image/xmp.js';
import type { BatchFrame } from '../db/models.js';

/** What a render of a run tells. */
export type FactsOf = (frame: Frame, pass: string, row: Pick<BatchFrame, 'samples' | 'identity'>) => RenderFacts;

/** Date and time where the plan has them, and where the sun stood. */
function sunWords({ date, time, azimuth, altitude }: FrameSun): string {
  const place = `${azimuth.toFixed(1)}° from north, ${altitude.toFixed(1)}° high`;
  return date && time ? `${date} ${time}, ${place}` : place;
}

/** Tells the renders of a run, each by its frame. */
export function factsOfRun(set: SetFile, run: string, planned: PlanContext, revision: { letter: string; model: string }): FactsOf {
  const shot = set.shots.find((s) => s.id === shotIdOfOutput(run));
  const views = new Map(set.views.map((v) => [v.id, v.name]));
  const variants = new Map(set.materials?.variants.map((v) => [v.id, v.name]));
  return (frame, pass, { samples, identity }) => ({
    project: planned.project ?? '',
    set: set.name,
    shot: shot ? shotName(shot) : run,
    view: views.get(frame.view) ?? frame.view,
    ...(frame.variant !== undefined && { variant: variants.get(frame.variant) ?? frame.variant }),
    revision: revision.letter,
    model: revision.model,
    frame: frame.number,
    pass,
    identity,
    ...(samples !== null && { samples }),
    ...(frame.sun && { sun: sunWords(frame.sun) }),
  });
}

/**
 * Paths of a run's files in a package: as planned, or by a pattern with the tokens of a set's names. Where a frame has several passes,
 * the pattern is given {pass}.
 */
export function packedPath(
  pattern: string | undefined,
  folder: string,
  facts: FactsOf,
  planned: PlanContext,
  author: string | undefined,
): (file: FileDescription, frame: Frame) => string {
  if (pattern === undefined) return ({ name }) => path.posix.join(folder, name);
  const one = compileNamePattern(pattern);
  const several = compileNamePattern(withTokens(pattern, ['pass']));
  return ({ name, pass }, frame) => {
    const told = facts(frame, pass, { samples: null, identity: frame.identity });
    const { date, time } = frame.sun ?? {};
    const words = {
      project: told.project,
      model: planned.model ?? 'model',
      revision: told.revision,
      set: told.set,
      shot: told.shot,
      view: told.view,
      pass,
      size: `${frame.size.width}x${frame.size.height}`,
      variant: frame.variant ?? 'as-set',
      batch: planned.batch ?? '1',
      ...(author && { author }),
      ...(date && time && { date, time: time.replace(':', '') }),
    };
    const stem = (frame.passes.length > 1 && pass !== 'all' ? several : one)(words, frame.number);
    return path.posix.join(folder, `${stem}${path.posix.extname(name)}`);
  };
}

/** `easel plan`: every frame of a set, with its camera, turn, sun and section. */
import { frameSummary } from '../../core/movie/planJson.js';
import { oddMovieSizes } from '../../core/movie/movieSizes.js';
import type { Command } from '../command.js';
import { readEnvironments, readSet } from '../input.js';
import { loadModelFor, planOf, type PlanOptions, planOptions } from '../planOf.js';

/** `easel plan`. */
export const planCommand: Command<PlanOptions> = {
  name: 'plan',
  summary: 'list every frame of a set with its camera',
  argument: ['set', 'the set file'],
  options: planOptions(),
  async run(file, options, say) {
    const set = readSet(file);
    const frames = planOf(set, await loadModelFor(set, options, say), await readEnvironments(set, file));
    say(`${set.name}: ${set.shots.length} shots, ${frames.length} frames`);
    for (const { name, size } of oddMovieSizes(set)) say(`${name}: ${size.width} × ${size.height} is odd; movies in H.264 need even sizes.`);
    return { frames: frames.map(frameSummary) };
  },
};

/** `easel plan`: every frame of a set, with its camera, turn, sun and section. */
import type { Frame } from '../../core/frame/frame.js';
import { oddMovieSizes } from '../../core/movie/movieSizes.js';
import type { Command } from '../command.js';
import { readEnvironments, readSet } from '../input.js';
import { loadModelFor, planOf, type PlanOptions, planOptions } from '../planOf.js';

function toResult({ shot, index, number, name, time, size, camera, turn, sun, section, identity }: Frame): object {
  const { eye, target, viewMatrix, projectionMatrix } = camera;
  return {
    shot,
    index,
    number,
    name,
    time,
    size,
    identity,
    camera: { eye, target, viewMatrix, projectionMatrix },
    ...(turn && { turn }),
    ...(sun && { sun }),
    ...(section && { section }),
  };
}

export const planCommand: Command<PlanOptions> = {
  name: 'plan',
  summary: 'list every frame of a set with its camera',
  argument: ['set', 'the set file'],
  options: planOptions(),
  async run(file, options, say) {
    const set = readSet(file);
    const frames = planOf(set, await loadModelFor(set, options, say), readEnvironments(set, file));
    say(`${set.name}: ${set.shots.length} shots, ${frames.length} frames`);
    for (const { name, size } of oddMovieSizes(set)) say(`${name}: ${size.width} × ${size.height} is odd; movies in H.264 need even sizes.`);
    return { frames: frames.map(toResult) };
  },
};

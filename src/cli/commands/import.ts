/** `easel import`: reads a model and says what is in it. */
import type { Command } from '../command.js';
import { loadModel, type ModelOptions, modelOptions } from '../planOf.js';

/** `easel import`. */
export const importCommand: Command<ModelOptions> = {
  name: 'import',
  summary: 'read a model and report parts, size and warnings',
  argument: ['model', 'the model file'],
  options: modelOptions(),
  async run(file, options, say) {
    const { summary } = await loadModel(file, options);
    const { name, parts, triangles, bounds, materials, warnings } = summary;
    say(`${name}: ${parts.length} parts, ${triangles} triangles, ${bounds.min.map((v, i) => (bounds.max[i]! - v).toFixed(3)).join(' × ')} m`);
    for (const warning of warnings) say(`note: ${warning}`);
    return { parts: parts.length, triangles, bounds, materials: materials, warnings };
  },
};

/** `easel export`: the plan in an open format that other programs read. */
import path from 'node:path';
import { Option } from 'commander';
import { PLAN_LISTS, type PlanList } from '../../core/movie/lists.js';
import { writeFileAtomic } from '../../engine/node/files.js';
import { exportPlanGlb } from '../../engine/output/planGlb.js';
import { type Command, InputError } from '../command.js';
import { readEnvironments, readSet, textureReader } from '../input.js';
import { loadModelFor, planOf, type PlanOptions, planOptions } from '../planOf.js';

interface ExportOptions extends PlanOptions {
  out: string;
}

const EXTENSIONS = ['.glb', ...Object.keys(PLAN_LISTS).map((e) => `.${e}`)];

/** `easel export`. */
export const exportCommand: Command<ExportOptions> = {
  name: 'export',
  summary: 'write the plan as glTF animation, USD cameras, shot list or timeline',
  argument: ['set', 'the set file'],
  options: [...planOptions(), new Option('--out <file>', `file to write, ending in ${EXTENSIONS.join(', ')}`).makeOptionMandatory()],
  async run(file, options, say) {
    const set = readSet(file);
    const out = path.resolve(options.out);
    const list = (Object.keys(PLAN_LISTS) as PlanList[]).find((extension) => out.toLowerCase().endsWith(`.${extension}`));
    if (!list && !/\.glb$/i.test(out)) throw new InputError(`Give the file to write with --out, ending in ${EXTENSIONS.join(', ')}.`);
    const prepared = await loadModelFor(set, options, say);
    const frames = planOf(set, prepared, await readEnvironments(set, file));
    const bytes = list
      ? new TextEncoder().encode(PLAN_LISTS[list].make(set, frames))
      : await exportPlanGlb(set, prepared.glb, frames, textureReader(file));
    await writeFileAtomic(out, bytes);
    say(`${options.out}: ${bytes.length} bytes, ${frames.length} frames`);
    return { file: out, bytes: bytes.length };
  },
};

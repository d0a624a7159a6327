/** `easel preflight`: what is to be said of a set before it runs. */
import { existsSync } from 'node:fs';
import path from 'node:path';
import { Option } from 'commander';
import { toMaterial, textureFilesOf } from '../../core/materials/customMaterial.js';
import type { Frame } from '../../core/frame/frame.js';
import { transformedBounds } from '../../core/model/modelTransform.js';
import { backdropFiles, type SetFile } from '../../core/plan/set.js';
import { planFrames } from '../../core/planning/planFrames.js';
import { openFindings, preflightPlan, type ReportedFinding } from '../../core/preflight/preflight.js';
import { unplannable } from '../../core/preflight/unplannable.js';
import { loadKernelModule } from '../../engine/node/assets.js';
import { type CheckedPlan, checkPlan } from '../../engine/probes/checkPlan.js';
import { SceneProber } from '../../engine/probes/sceneProber.js';
import type { Prepared } from '../../engine/scene/prepare.js';
import { type Command, FaultsFound, type Say } from '../command.js';
import { readEnvironments, readSet } from '../input.js';
import { assetsOf, loadModelFor, planContext, type PlanOptions, planOptions } from '../planOf.js';

interface PreflightOptions extends PlanOptions {
  strict?: boolean;
}

/** Images that lie not beside the set file. */
function missingImages(set: SetFile, setFile: string): string[] {
  const named = [...textureFilesOf((set.materials?.materials ?? []).map(toMaterial)), ...backdropFiles(set)];
  return [...new Set(named)].filter((name) => !existsSync(path.join(path.dirname(setFile), path.basename(name))));
}

async function check(set: SetFile, file: string, prepared: Prepared): Promise<CheckedPlan> {
  const environments = await readEnvironments(set, file);
  const { summary } = prepared;
  const context = planContext(prepared, environments);
  let frames: Frame[];
  try {
    frames = planFrames(set, context);
  } catch (e) {
    return { ...unplannable(e as Error, set, context), frames: 0, probed: 0 };
  }
  const bounds = transformedBounds(set.transform, summary.bounds);
  const plan = preflightPlan(set, frames, { parts: summary.parts, bounds, scene: summary.hash }, { missingFiles: missingImages(set, file) });
  return checkPlan(plan, new SceneProber(loadKernelModule()), assetsOf(prepared, file, environments));
}

/** One finding, as `set-file.md` has it. */
const toResult = ({ check: id, severity, run, frames, message, fix, waived }: ReportedFinding): object => ({
  check: id,
  severity,
  ...(run !== undefined && { shot: run }),
  ...(frames && { frames }),
  message,
  ...(fix && { fix: fix.label }),
  ...(waived !== undefined && { waived }),
});

function table(findings: readonly ReportedFinding[], say: Say): void {
  const rows = findings.map((f) => [
    f.severity,
    f.shotName ?? 'whole set',
    f.title,
    `${f.message}${f.waived === undefined ? '' : ` (waived: ${f.waived})`}`,
  ]);
  const widths = [0, 1, 2].map((c) => Math.max(0, ...rows.map((r) => r[c]!.length)));
  for (const row of rows) say(row.map((cell, c) => (c < widths.length ? cell.padEnd(widths[c]!) : cell)).join('  '));
}

/** `easel preflight`. */
export const preflightCommand: Command<PreflightOptions> = {
  name: 'preflight',
  summary: 'check a set on a model before it runs',
  argument: ['set', 'the set file'],
  options: [...planOptions(), new Option('--strict', 'exit with 3 where a fault is open')],
  async run(file, options, say) {
    const set = readSet(file);
    const report = await check(set, file, await loadModelFor(set, options, say));
    table(report.findings, say);
    const faults = openFindings(report, 'fault').length;
    say(`${set.name}: ${report.probed} of ${report.frames} frames checked, ${faults} faults, ${openFindings(report, 'doubt').length} doubts`);
    const result = { findings: report.findings.map(toResult) };
    if (options.strict && faults > 0) throw new FaultsFound(result);
    return result;
  },
};

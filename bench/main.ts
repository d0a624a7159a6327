/** `npm run bench`: everything measured in one run, as a table, as JSON, or as the page kept in docs. */
import { cpus } from 'node:os';
import { Command as Program } from 'commander';
import { LAMP_SHOTS, LANDING } from '../demo/sets.js';
import { northmere } from '../demo/northmere.js';
import { tern } from '../demo/tern.js';
import { type BenchRow, type BuildRow, runBench, scaling, type ScalingRow } from './rayBench.js';
import { besidePlain, codeScenes, type FrameRow, type FrameScene, measureFrames, type PlainRow } from './frames.js';
import { measurePreflight, preflightCases, type PreflightRow } from './preflight.js';
import { loadKernelModule } from '../src/engine/node/assets.js';
import { writeFileAtomic } from '../src/engine/node/files.js';
import { startPool } from '../src/engine/node/threads.js';

interface Measured {
  rays: BenchRow[];
  builds: BuildRow[];
  workers: ScalingRow;
  frames: FrameRow[];
  plain: PlainRow;
  preflight: PreflightRow[];
  machine: { node: string; arch: string; platform: string; cores: number };
}

const million = (n: number, digits = 2): string => (n / 1e6).toFixed(digits);

/** Rows of a Markdown table, padded as the formatter would. */
function table(head: string[], rows: string[][]): string {
  const widths = head.map((h, i) => Math.max(3, h.length, ...rows.map((r) => r[i]!.length)));
  const line = (cells: string[]): string => `| ${cells.map((c, i) => c.padEnd(widths[i]!)).join(' | ')} |`;
  return [line(head), line(widths.map((w) => '-'.repeat(w))), ...rows.map(line)].join('\n');
}

function middle(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length / 2;
  return (sorted[Math.ceil(half) - 1]! + sorted[Math.floor(half)]!) / 2;
}

/** docs/benchmarks.md of a run. */
function page({ rays, builds, workers, frames, plain, preflight, machine }: Measured, date: string): string {
  const ratios = rays.map((r) => r.ratio);
  return `# Benchmarks

Written by \`npm run bench -- --page docs/benchmarks.md\` on ${date}: ${machine.cores} cores, Node ${machine.node}, ${machine.platform} ${machine.arch}. Figures are medians; the sides of a comparison take turns. Where a machine's speed wanders, read the ratios.

## Rays a second, one thread

The kernel beside \`three-mesh-bvh\` on the same rays; the eye's go in bundles of sixteen neighbours, as samples of a pixel do. Least ratio ${Math.min(...ratios).toFixed(1)}, median ${middle(ratios).toFixed(1)}.

${table(
  ['scene', 'rays', 'triangles', 'kernel, million/s', 'three-mesh-bvh', 'ratio'],
  rays.map((r) => [r.scene, r.rays, String(r.triangles), million(r.kernel), million(r.reference, 3), r.ratio.toFixed(1)]),
)}

## Building

${table(
  ['scene', 'triangles', 'seconds', 'tree, bytes a triangle'],
  builds.map((b) => [b.scene, String(b.triangles), b.seconds.toFixed(2), b.bytes.toFixed(0)]),
)}

## Whole frames, all workers

640 × 360; the designs at review quality, the rest at 8 samples. The denoiser's share is of the workers' time.

${table(
  ['scene', 'triangles', 'as seen', 'million samples/s', 'denoiser', 'build, s', 'bytes a triangle', 'pictures, MB'],
  frames.map((f) => [
    f.scene,
    String(f.triangles),
    String(f.seen),
    million(f.samples),
    `${(100 * f.denoise).toFixed(1)} %`,
    f.build.toFixed(2),
    f.bytes.toFixed(0),
    (f.texels / 1e6).toFixed(1),
  ]),
)}

The hall in one thread beside a plain path tracer in TypeScript (\`bench/plainTracer.ts\`): ${million(plain.kernel)} and ${million(plain.plain, 3)} million samples/s, ${plain.ratio.toFixed(1)} times as fast; the mean radiance of both differs by ${(100 * Math.abs(plain.agreement - 1)).toFixed(1)} %. Two workers are ${workers.ratio.toFixed(2)} times as fast as one.

## Checks before a run

In one thread. The first frame counts from a compiled scene that is not in memory yet; of an edit, what comes after it.

${table(
  ['plan', 'triangles', 'frames', 'first frame, s', 'all frames, s', 'ms a frame'],
  preflight.map((p) => [
    p.what,
    String(p.triangles),
    String(p.frames),
    p.first.toFixed(2),
    p.seconds.toFixed(2),
    ((1000 * p.seconds) / p.frames).toFixed(1),
  ]),
)}
`;
}

/** The demo's designs as their first sets see them. */
function designs(): FrameScene[] {
  const [corner] = LANDING.views;
  const [light] = LAMP_SHOTS.views;
  const view = (v: { eye: number[]; target: number[]; focalLength: number }) => ({
    eye: v.eye as [number, number, number],
    target: v.target as [number, number, number],
    focalLength: v.focalLength,
  });
  return [
    { name: 'Tern', model: tern(), ...view(light!), quality: 'review' },
    { name: 'Northmere', model: northmere(), ...view(corner!), stage: { preset: 'open sky' }, quality: 'review' },
  ];
}

const program = new Program('bench')
  .description('Measure rays, builds, frames and workers in one run.')
  .option('--json', 'print the result as JSON on standard output')
  .option('--page <file>', 'write the page that is kept in docs')
  .option('--runs <count>', 'runs of each figure', '5')
  .option('--scale <factor>', 'size of the scenes, 0.1 to 3', '1')
  .parse();
const options = program.opts<{ json?: boolean; page?: string; runs: string; scale: string }>();
const say = (line: string): void => void process.stderr.write(`${line}\n`);
const [runs, scale] = [Number(options.runs), Number(options.scale)];
if (!Number.isInteger(runs) || runs < 1 || runs > 100) program.error('--runs is a whole number from 1 to 100.', { exitCode: 2 });
if (!(scale >= 0.1 && scale <= 3)) program.error('--scale is a number from 0.1 to 3.', { exitCode: 2 });

const module = loadKernelModule();
const { rows: rays, builds } = runBench(module, { runs, scale });
for (const r of rays)
  say(`${r.scene} ${r.rays}: ${million(r.kernel)} million rays/s, three-mesh-bvh ${million(r.reference, 3)}, ratio ${r.ratio.toFixed(1)}`);
for (const b of builds) say(`${b.scene}: built in ${b.seconds.toFixed(2)} s, ${b.bytes.toFixed(0)} bytes a triangle`);
const workers = await scaling(module, (threads) => startPool(threads), runs);
say(`two workers ${workers.ratio.toFixed(2)} times one (${million(workers.one)} and ${million(workers.two)} million samples/s)`);
const alone = startPool(1);
const plain = await besidePlain(module, alone, Math.min(runs, 3));
await alone.close();
say(`plain tracer: ${million(plain.plain, 3)} million samples/s beside ${million(plain.kernel, 3)}, ratio ${plain.ratio.toFixed(1)}`);
const pool = startPool();
const frames = await measureFrames(module, pool, [...designs(), ...codeScenes()], Math.min(runs, 3));
await pool.close();
for (const f of frames)
  say(
    `${f.scene}: ${million(f.samples)} million samples/s, denoiser ${(100 * f.denoise).toFixed(1)} %, ${f.seen} triangles as seen, built in ${f.build.toFixed(2)} s, ${f.bytes.toFixed(0)} bytes a triangle`,
  );
const preflight = await measurePreflight(preflightCases(scale));
for (const p of preflight) say(`preflight, ${p.what}: ${p.frames} frames in ${p.seconds.toFixed(2)} s, the first after ${p.first.toFixed(2)} s`);
const machine = { node: process.version, arch: process.arch, platform: process.platform, cores: cpus().length };
const all: Measured = { rays, builds, workers, frames, plain, preflight, machine };
if (options.page) await writeFileAtomic(options.page, page(all, new Date().toISOString().slice(0, 10)));
if (options.json) process.stdout.write(`${JSON.stringify({ threads: 1, ...all })}\n`);

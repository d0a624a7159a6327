// Builds the kernel, the Node bundles and (without --node) the web application into dist/.
import { spawnSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { readdirSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
process.chdir(root);
const only = process.argv.includes('--node');
mkdirSync('dist', { recursive: true });

function run(command, args) {
  const result = spawnSync(command, args, { stdio: 'inherit' });
  if (result.status !== 0) process.exit(result.status ?? 1);
}

// Compiling the kernel takes some seconds; its sources say whether it is needed.
const sources = readdirSync('kernel', { recursive: true })
  .filter((f) => f.endsWith('.ts'))
  .sort();
const hash = createHash('sha256');
for (const f of sources) hash.update(f).update(readFileSync(path.join('kernel', f)));
const stamp = hash.digest('hex');
const stampFile = 'dist/kernel.stamp';
if (!existsSync('dist/kernel.wasm') || !existsSync(stampFile) || readFileSync(stampFile, 'utf8') !== stamp) {
  run(process.execPath, [
    'node_modules/assemblyscript/bin/asc.js',
    'kernel/index.ts',
    '-o',
    'dist/kernel.new.wasm',
    '-O3',
    '--noAssert',
    '--runtime',
    'stub',
    '--importMemory',
    '--sharedMemory',
    '--initialMemory',
    '1',
    '--maximumMemory',
    '65536',
    '--enable',
    'threads',
    '--enable',
    'simd',
    '--noExportMemory',
  ]);
  renameSync('dist/kernel.new.wasm', 'dist/kernel.wasm');
  writeFileSync(stampFile, stamp);
}

/**
 * three.js as its single modules instead of as one file: what no reader uses stays out, which is most of it.
 * @type {import('esbuild').Plugin}
 */
const threeInModules = {
  name: 'three in modules',
  setup: ({ onResolve }) =>
    onResolve({ filter: /^three$/ }, () => ({ path: path.join(root, 'node_modules/three/src/Three.Core.js'), sideEffects: false })),
};

const { metafile } = await build({
  entryPoints: {
    server: 'src/server/main.ts',
    easel: 'src/cli/main.ts',
    maintenance: 'src/server/maintenance/index.ts',
    'output-worker': 'src/engine/node/outputWorker.ts',
    'tile-worker': 'src/engine/node/tileWorker.ts',
    'import-worker': 'src/engine/node/importWorker.ts',
    'image-worker': 'src/engine/node/imageWorker.ts',
    'reduce-worker': 'src/engine/node/reduceWorker.ts',
    'review-worker': 'src/engine/node/reviewWorker.ts',
    'plan-worker': 'src/engine/node/planWorker.ts',
    'planning-worker': 'src/server/planning/worker.ts',
    'match-worker': 'src/server/planning/matchWorker.ts',
    'preflight-worker': 'src/server/planning/preflightWorker.ts',
    'probe-worker': 'src/server/planning/probeWorker.ts',
    'demo-models': 'demo/makeModels.ts',
  },
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  // Modules of libraries rather than their older form, since what is not used of them can be left out.
  mainFields: ['module', 'main'],
  plugins: [threeInModules],
  // Starts take as long as there is text to compile. Names stay, for the sake of those who read a stack.
  minifySyntax: true,
  minifyWhitespace: true,
  // Code that several entries share lies in pieces beside them, and what a program may never need is a piece of its own:
  // it is read where it is wanted, so that every start is quick.
  splitting: true,
  chunkNames: 'part-[name]-[hash]',
  // What brings files of its own, or is loaded in another way than by import.
  external: [
    '@ffmpeg-installer/ffmpeg',
    '@photostructure/tz-lookup',
    'archiver',
    'city-timezones',
    'commander',
    'compression',
    'draco3dgltf',
    'express',
    'express-static-gzip',
    'helmet',
    'laz-perf',
    'linkedom',
    'multer',
    'occt-import-js',
    'opentype.js',
    'pdfkit',
    'pino',
    'sequelize',
    'sharp',
    'sqlite3',
    'tar-stream',
    'umzug',
    'web-ifc',
  ],
  sourcemap: true,
  metafile: true,
  logLevel: 'warning',
});
// Pieces of earlier builds are named otherwise, and would pile up; a server that still runs may want those of yesterday.
const made = new Set(Object.keys(metafile.outputs).map((f) => path.basename(f)));
const isOld = (f) => Date.now() - statSync(path.join('dist', f)).mtimeMs > 86_400_000;
for (const f of readdirSync('dist')) if (f.startsWith('part-') && !made.has(f) && isOld(f)) rmSync(path.join('dist', f));

/** Our own sources that a program is made of, those of its pieces included, in order. */
function sourcesOf(program) {
  const outputs = new Set([program]);
  // What is added meanwhile is gone through too.
  for (const output of outputs) for (const { path: piece, external } of metafile.outputs[output].imports) if (!external) outputs.add(piece);
  const inputs = new Set([...outputs].flatMap((output) => Object.keys(metafile.outputs[output].inputs)));
  return [...inputs].filter((f) => !f.startsWith('node_modules/')).sort();
}

// Making the demo's textures takes seconds, so it is done once for their sources.
const demoHash = createHash('sha256');
for (const f of sourcesOf('dist/demo-models.mjs')) demoHash.update(f).update(readFileSync(f));
const demoStamp = demoHash.digest('hex');
const demoStampFile = 'dist/demo/stamp';
if (!existsSync(demoStampFile) || readFileSync(demoStampFile, 'utf8') !== demoStamp) {
  run(process.execPath, ['dist/demo-models.mjs']);
  writeFileSync(demoStampFile, demoStamp);
}

if (!only) {
  run(process.execPath, ['node_modules/vite/bin/vite.js', 'build', '--logLevel', 'warn']);
  // The review page is one script, so that it also opens from a folder on disk.
  run(process.execPath, ['node_modules/vite/bin/vite.js', 'build', '--config', 'vite.page.config.ts', '--logLevel', 'warn']);
  copyFileSync('src/web/page/index.html', 'dist/page/index.html');
  run(process.execPath, ['scripts/sizes.mjs']);
}

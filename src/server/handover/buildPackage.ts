/** Puts a package together in a folder: links files, writes what goes with them, tells all of it in a manifest. */
import { mkdir, readFile, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { NewPackage } from '../../contract/packages.js';
import { changedSince, sumOf } from '../../core/handover/audit.js';
import {
  CHECKSUMS_FILE,
  checksumLines,
  type FileEntry,
  MANIFEST_FILE,
  type Manifest,
  type PackageChanges,
  manifestSchema,
  PACKAGE_FORMAT,
} from '../../core/handover/manifest.js';
import { slugify } from '../../core/plan/fileNames.js';
import { APPLICATION } from '../../core/base/application.js';
import { linkFile, writeFileAtomic } from '../../engine/node/files.js';
import { hashFile } from '../../engine/node/hashFile.js';
import { copyTelling } from '../../engine/node/tellInFile.js';
import { batchReport } from '../batches/report.js';
import { reportHtml } from '../batches/reportHtml.js';
import { planSnapshot } from '../batches/snapshot.js';
import type { ServerContext } from '../context.js';
import type { Batch, PlanSet } from '../db/models.js';
import { findProject } from '../projects.js';
import { decisionsCsv, listDecisions } from '../results/decisions.js';
import { listNotes } from '../results/notes.js';
import { setFileOf } from '../sets.js';
import { type PackedRun, packRenders } from './packageFiles.js';
import type { PackedFile } from './packageMovies.js';
import { writeSheets } from './packageSheets.js';

type PlainKind = Exclude<FileEntry['kind'], 'render' | 'movie'>;

interface Build {
  context: ServerContext;
  set: PlanSet;
  folder: string;
  asked: NewPackage;
  signal: AbortSignal;
  onProgress: (done: number, of: number) => void;
}

/** Writes plans, models, reports and sheets into the folder; returns what they are. */
async function writeExtras({ context, set, folder, asked, signal }: Build, runs: readonly PackedRun[]): Promise<FileEntry[]> {
  const entries: FileEntry[] = [];
  const note = async (name: string, kind: PlainKind): Promise<void> => {
    const file = path.join(folder, name);
    entries.push({ kind, path: name, bytes: (await stat(file)).size, sha256: await hashFile(file) });
  };
  const put = async (name: string, kind: PlainKind, content: string): Promise<void> => {
    await writeFileAtomic(path.join(folder, name), content);
    await note(name, kind);
  };
  const batches = new Map<number, Batch>(runs.map((r) => [r.batch.id, r.batch]));
  for (const batch of batches.values()) {
    if (asked.plans) await put(`plans/batch-${batch.number}.set.json`, 'plan', `${JSON.stringify(planSnapshot(batch).set, null, 2)}\n`);
    if (!asked.reports) continue;
    const report = await batchReport(context, batch);
    // Paths of this machine stay here.
    await put(`reports/batch-${batch.number}.json`, 'report', `${JSON.stringify(report, null, 2)}\n`);
    await put(`reports/batch-${batch.number}.html`, 'report', reportHtml(report));
  }
  if (asked.reports) {
    await put('reports/decisions.csv', 'report', decisionsCsv(await listDecisions(set.id)));
    await put('reports/notes.json', 'report', `${JSON.stringify(await listNotes(set.id), null, 2)}\n`);
  }
  const models = new Map(runs.map((r) => [r.revision.letter, r.revision.model]));
  if (asked.models)
    for (const [letter, hash] of models) {
      const name = `models/revision-${letter}.glb`;
      await linkFile(context.store.glb(hash), path.join(folder, name));
      await note(name, 'model');
    }
  const [first] = runs;
  if (asked.sheet && first) {
    const project = await findProject(set.projectId);
    const words = {
      title: `${project.name}, ${setFileOf(set).name}`,
      facts: `revision ${[...models.keys()].join(', ')} · ${new Date().toISOString().slice(0, 10)}`,
    };
    const content = { project, batch: first.batch, renders: runs.flatMap((r) => r.sheet) };
    for (const name of await writeSheets(context, content, asked.sheet, words, folder, signal)) await note(name, 'sheet');
  }
  return entries;
}

/** Puts a file into the package. One that is gone is the audit's to tell, beside all others. */
async function packFile({ from, entry, facts }: PackedFile, to: string): Promise<FileEntry> {
  try {
    if (facts && entry.kind === 'render' && (await copyTelling(from, to, facts))) {
      // A render that is torn or changed is told by its own sum, which the copy has not.
      const whole = (await hashFile(from)) === entry.sha256;
      return whole ? { ...entry, source: entry.sha256, sha256: await hashFile(to) } : entry;
    }
    await linkFile(from, to);
    // Movies have no recorded checksum: theirs is taken here.
    return entry.kind === 'movie' ? { ...entry, bytes: (await stat(to)).size, sha256: await hashFile(to) } : entry;
  } catch (e) {
    if ((e as NodeJS.ErrnoException).code === 'ENOENT') return entry;
    throw e;
  }
}

/** Builds the package anew and returns its manifest. @param before files that were delivered, of which only changes are packed where that is asked. */
export async function buildPackage(build: Build, before: readonly FileEntry[] | null): Promise<Manifest> {
  const { context, set, folder, asked, signal, onProgress } = build;
  const runs = await packRenders(context, set.id, asked);
  await rm(folder, { recursive: true, force: true });
  await mkdir(folder, { recursive: true });
  const files = runs.flatMap((r) => r.files);
  // What is left out since the client has it already is not copied before.
  const held = new Map(asked.onlyChanged ? before?.map((f) => [f.path, sumOf(f)]) : []);
  const entries: FileEntry[] = [];
  for (const [i, file] of files.entries()) {
    signal.throwIfAborted();
    const { entry } = file;
    entries.push(held.get(entry.path) === sumOf(entry) ? entry : await packFile(file, path.join(folder, entry.path)));
    onProgress(i + 1, files.length);
  }
  const all = [...entries, ...(await writeExtras(build, runs))];
  const since = before && changedSince(before, all);
  const kept = since && asked.onlyChanged ? await onlyChanged(folder, since, all) : all;
  const file = setFileOf(set);
  const manifest: Manifest = {
    format: PACKAGE_FORMAT,
    version: 1,
    application: APPLICATION,
    name: asked.name,
    project: (await findProject(set.projectId)).name,
    set: file.name,
    made: new Date().toISOString(),
    onlyChanged: since !== null && asked.onlyChanged,
    ...(since && { since }),
    models: Object.fromEntries(runs.map((r) => [r.revision.letter, r.revision.model])),
    ...(file.delivery && { delivery: file.delivery }),
    runs: runs.map((r) => r.run),
    files: kept,
  };
  const text = `${JSON.stringify(manifest, null, 2)}\n`;
  await writeFileAtomic(path.join(folder, MANIFEST_FILE), text);
  const manifestSum = { path: MANIFEST_FILE, sha256: await hashFile(path.join(folder, MANIFEST_FILE)) };
  await writeFileAtomic(path.join(folder, CHECKSUMS_FILE), checksumLines([...kept, manifestSum]));
  return manifest;
}

/** Leaves what an earlier delivery had with the same bytes out of the folder. */
async function onlyChanged(folder: string, { added, changed }: PackageChanges, files: readonly FileEntry[]): Promise<FileEntry[]> {
  const wanted = new Set([...added, ...changed]);
  for (const { path: name } of files) if (!wanted.has(name)) await rm(path.join(folder, name), { force: true });
  return files.filter((f) => wanted.has(f.path));
}

/** The manifest in a folder. Throws an Error that says what is wrong with it. */
export async function readManifest(folder: string): Promise<Manifest> {
  return manifestSchema.parse(JSON.parse(await readFile(path.join(folder, MANIFEST_FILE), 'utf8')));
}

/** Name of the package's archive. */
export const archiveName = (name: string): string => `${slugify(name)}.zip`;

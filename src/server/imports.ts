/** Imports: from files that were received to a revision, at most two at a time. */
import { mkdtemp, rm } from 'node:fs/promises';
import path from 'node:path';
import { unitsOf } from '../core/model/fileExtensions.js';
import { IMPORT_FILES } from '../engine/node/importTask.js';
import { writeFileAtomic } from '../engine/node/files.js';
import type { ModelDigest } from '../engine/scene/prepare.js';
import { type AskedOptions, extensionOf, ModelError, type SourceFile } from '../formats/format.js';
import { findModelName } from '../formats/formats.js';
import { keepOriginals, type Original } from './assets/originals.js';
import type { ServerContext } from './context.js';
import { PlanSet, type Project, Revision } from './db/models.js';
import { readSetText, setColumns } from './setText.js';

/** A file that was received: what it is called, and where it lies until the import is over. */
export interface ReceivedFile {
  name: string;
  path: string;
}

const MAX_IMPORTS = 2;
const PROGRESS_INTERVAL_MS = 150;

/** Lets so many through at a time; who goes away while waiting leaves the line. */
class Line {
  private free: number;
  private readonly waiting: (() => void)[] = [];

  constructor(places: number) {
    this.free = places;
  }

  get length(): number {
    return this.waiting.length;
  }

  async enter(signal?: AbortSignal): Promise<() => void> {
    if (this.free === 0) {
      await new Promise<void>((resolve, reject) => {
        const next = (): void => {
          signal?.removeEventListener('abort', leave);
          resolve();
        };
        const leave = (): void => {
          this.waiting.splice(this.waiting.indexOf(next), 1);
          reject(new ModelError('The import was stopped before it began. Nothing was changed.'));
        };
        if (signal?.aborted) leave();
        signal?.addEventListener('abort', leave, { once: true });
        this.waiting.push(next);
      });
    } else this.free--;
    let left = false;
    return () => {
      if (left) return;
      left = true;
      const next = this.waiting.shift();
      if (next) next();
      else this.free++;
    };
  }
}

const line = new Line(MAX_IMPORTS);

/** Letters of revisions: A to Z, then AA, AB and so on. */
export function letterAfter(count: number): string {
  const last = String.fromCharCode(65 + (count % 26));
  return count < 26 ? last : letterAfter(Math.floor(count / 26) - 1) + last;
}

/** The count that letterAfter gives this letter for, and one: how many letters there are up to it. */
function numberOfLetter(letter: string): number {
  return [...letter].reduce((n, c) => n * 26 + c.charCodeAt(0) - 64, 0);
}

/** What an import wrote, and what is told of it. */
interface Imported {
  folder: string;
  digest: ModelDigest;
  originals: Original[];
}

/** Sets follow parts that were renamed; what does not carry over is told in the import's report. */
async function remapSets(
  { matcher }: ServerContext,
  project: Project,
  summary: string,
): Promise<{ changed: Map<number, { version: number; file: string }>; warnings: string[] }> {
  const last = await Revision.findOne({ where: { projectId: project.id, deleted: null }, attributes: ['id'], order: [['id', 'DESC']] });
  const changed = new Map<number, { version: number; file: string }>();
  const warnings: string[] = [];
  if (!last) return { changed, warnings };
  for (const { id, version, file, name, regrouped, problem } of await matcher.remap(project.id, last.id, summary)) {
    if (problem) warnings.push(`The set ${name} cannot be read, so it was not carried over to this revision.`);
    for (const part of regrouped)
      warnings.push(`"${part}" has other groups of faces than before. Check its materials: "${name}" assigns some to single groups.`);
    if (file !== null) changed.set(id, { version, file });
  }
  return { changed, warnings };
}

/** Keeps an imported model as the project's next revision: files first, then the row. */
async function addRevision(context: ServerContext, project: Project, imported: Imported, fileName: string, options: AskedOptions): Promise<Revision> {
  const { database, store } = context;
  const { folder, digest, originals } = imported;
  const summaryFile = path.join(folder, IMPORT_FILES.summary);
  const { changed, warnings } = await remapSets(context, project, summaryFile);
  digest.warnings.push(...warnings);
  const summary = await store.readText(summaryFile);
  await store.saveModel(folder, digest.hash);
  const revision = await database.write(async (transaction) => {
    // A copy of a project lacks those that were deleted: letters go on from the last, not by their count.
    const last = await Revision.findOne({ where: { projectId: project.id }, attributes: ['letter'], order: [['id', 'DESC']], transaction });
    for (const [id, { version, file }] of changed) {
      const set = await PlanSet.findByPk(id, { transaction });
      // One that was edited meanwhile keeps its paths; what is lost is listed where it is used.
      if (set?.version !== version) continue;
      set.set({ ...setColumns(readSetText(file)), version: version + 1 });
      await set.save({ transaction });
    }
    return Revision.create(
      {
        projectId: project.id,
        letter: letterAfter(last ? numberOfLetter(last.letter) : 0),
        fileName,
        ...unitsOf(extensionOf(fileName), options),
        hash: digest.hash,
        summary,
        digest: JSON.stringify(digest),
        originals: JSON.stringify(originals),
      },
      { transaction },
    );
  });
  // Parts, sets and views of the project's pages may all be others now.
  context.events.send(project.id, { type: 'resync' });
  return revision;
}

/**
 * Reads the received files in a process of their own and keeps them as the next revision. Leaves nothing behind where it
 * rejects: with ModelError where the files are at fault or `signal` stopped it.
 */
export async function importRevision(
  context: ServerContext,
  project: Project,
  files: ReceivedFile[],
  options: AskedOptions,
  signal?: AbortSignal,
): Promise<Revision> {
  const { store, events } = context;
  const fileName = findModelName(files.map((f) => f.name));
  let told = 0;
  const onProgress = (share: number, what: string): void => {
    const now = Date.now();
    if (now - told < PROGRESS_INTERVAL_MS && share < 1) return;
    told = now;
    events.send(project.id, { type: 'import', projectId: project.id, share, what });
  };
  if (line.length > 0) onProgress(0, 'waiting for another import');
  const leave = await line.enter(signal);
  let folder: string | null = null;
  try {
    folder = await mkdtemp(path.join(store.uploads(), 'import-'));
    const digest = await context.importFiles({ files, options, out: folder }, { onProgress, ...(signal && { signal }) });
    const { originals, warning } = await keepOriginals(store, files);
    if (warning) digest.warnings.push(warning);
    return await addRevision(context, project, { folder, digest, originals }, digest.source ?? fileName, options);
  } finally {
    leave();
    if (folder) await rm(folder, { recursive: true, force: true }).catch((e: unknown) => context.log.warn(e));
  }
}

/** The same for files in memory: of the demo. */
export async function importSources(context: ServerContext, project: Project, sources: SourceFile[], options: AskedOptions): Promise<Revision> {
  const folder = await mkdtemp(path.join(context.store.uploads(), 'sources-'));
  try {
    const files = await Promise.all(
      sources.map(async ({ name, bytes }, i) => {
        const at = path.join(folder, String(i));
        await writeFileAtomic(at, bytes);
        return { name, path: at };
      }),
    );
    return await importRevision(context, project, files, options);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Sets: their files, what lists tell of them, and saving. One that cannot be read is a marked thing and harms no other. */
import { createHash } from 'node:crypto';
import { type SetReply } from '../contract/contract.js';
import { countFrames } from '../core/planning/planFrames.js';
import { parseSet, type SetFile } from '../core/plan/set.js';
import { type ServerContext } from './context.js';
import { PlanSet, type Project } from './db/models.js';
import { notFound, ServerError } from './errors.js';

export async function findSet(id: number): Promise<PlanSet> {
  const set = await PlanSet.findByPk(id);
  if (!set) throw notFound(`Set ${id}`);
  return set;
}

/** Reads a set file out of its JSON. Throws an Error with a line for each wrong place. */
export function readSetText(text: string): SetFile {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Error('the file: it is not valid JSON.');
  }
  return parseSet(json);
}

/** The set's file. Throws ServerError with the reason where it cannot be read. */
export function setFileOf(set: Pick<PlanSet, 'id' | 'file'>): SetFile {
  try {
    return readSetText(set.file);
  } catch (e) {
    throw new ServerError('unusable', `This set cannot be read. ${(e as Error).message}\nExport it as it is, correct the file and import it again.`);
  }
}

/** Content hash of a set file, for addresses of what is made from it. */
export const contentOf = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 16);

/** What lists tell of a set; made from the text of that content hash. */
export interface SetDigest {
  of: string;
  name: string;
  frames: number;
}

export function setDigest(text: string, file: SetFile): SetDigest {
  return { of: contentOf(text), name: file.name, frames: countFrames(file) };
}

/** A name for a set that cannot be read: its own where that much can be. */
function nameIn(text: string): string | null {
  try {
    const { name } = JSON.parse(text) as { name?: unknown };
    return typeof name === 'string' && name.trim() !== '' ? name.slice(0, 80) : null;
  } catch {
    return null;
  }
}

/** A line of a list of sets; with the problem of one that cannot be read. */
export function listedSet({ id, file: text, digest }: PlanSet): { id: number; name: string; frames: number; problem?: string } {
  const kept = digest === null || digest === undefined ? null : (JSON.parse(digest) as SetDigest);
  if (kept?.of === contentOf(text)) return { id, name: kept.name, frames: kept.frames };
  try {
    const { name, frames } = setDigest(text, readSetText(text));
    return { id, name, frames };
  } catch (e) {
    return { id, name: nameIn(text) ?? `Set ${id}`, frames: 0, problem: (e as Error).message };
  }
}

export function toSetReply(set: PlanSet): SetReply {
  return { id: set.id, projectId: set.projectId, version: set.version, content: contentOf(set.file), file: setFileOf(set) };
}

/** The columns that a set file fills. */
export function setColumns(file: SetFile): { file: string; digest: string } {
  const text = JSON.stringify(file);
  return { file: text, digest: JSON.stringify(setDigest(text, file)) };
}

export async function addSet({ database }: ServerContext, project: Project, file: SetFile): Promise<PlanSet> {
  return database.write((transaction) => PlanSet.create({ projectId: project.id, ...setColumns(file) }, { transaction }));
}

/** Saves a set over the version that the page had. Throws a conflict where another page was faster. */
export async function saveSetFile({ database }: ServerContext, id: number, version: number, file: SetFile): Promise<PlanSet> {
  return database.write(async (transaction) => {
    const set = await PlanSet.findByPk(id, { transaction });
    if (!set) throw notFound(`Set ${id}`);
    if (set.version !== version)
      throw new ServerError('conflict', 'This set was changed in another window. Reload to go on from there; your last change was not saved.');
    set.set({ version: version + 1, ...setColumns(file) });
    return set.save({ transaction });
  });
}

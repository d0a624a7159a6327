/** Sets: their rows, what lists tell of them, and saving. One that cannot be read is a marked thing and harms no other. */
import type { ProjectReply } from '../contract/contract.js';
import type { SetFile } from '../core/plan/set.js';
import type { ServerContext } from './context.js';
import { PlanSet } from './db/models.js';
import { notFound, ServerError } from './errors.js';
import { PlanError } from './planning/planner.js';
import { contentOf, type ReadSet, readSet, readSetText, type SetColumns, setDigest, type SetDigest, type SetTextKind } from './setText.js';

/** Texts of up to so many characters are read here; longer ones take longer than anybody else should wait. */
const MAX_INLINE_LENGTH = 32 * 1024;

/** The set of that id. @throws 404 where there is none, or it was deleted. */
export async function findSet(id: number): Promise<PlanSet> {
  const set = await PlanSet.findByPk(id);
  if (!set) throw notFound(`Set ${id}`);
  if (set.deleted !== null) throw new ServerError('not-found', `Set ${id} was deleted.`);
  return set;
}

const unreadable = (reason: string): ServerError =>
  new ServerError('unusable', `This set cannot be read. ${reason}\nExport it as it is, correct the file and import it again.`);

/** The set's file. Throws ServerError with the reason where it cannot be read. */
export function setFileOf(set: Pick<PlanSet, 'id' | 'file'>): SetFile {
  try {
    return readSetText(set.file);
  } catch (e) {
    throw unreadable((e as Error).message);
  }
}

/** Reads a set out of a text, a long one beside the event loop. Rejects with ServerError that names each wrong place. */
export async function readSetFrom({ planner }: ServerContext, kind: SetTextKind, text: string): Promise<ReadSet> {
  try {
    return text.length <= MAX_INLINE_LENGTH ? readSet(kind, text) : await planner.readSet(kind, text);
  } catch (e) {
    if (e instanceof ServerError) throw e;
    if (text.length > MAX_INLINE_LENGTH && !(e instanceof PlanError)) throw e;
    throw kind === 'stored' ? unreadable((e as Error).message) : new ServerError('invalid-input', (e as Error).message);
  }
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

/** The first view of a set that was read when it was stored. */
const firstView = (text: string): string | null => (JSON.parse(text) as SetFile).views[0]?.id ?? null;

/** A line of a list of sets; with the problem of one that cannot be read. */
export function listedSet({ id, file: text, digest }: PlanSet): ProjectReply['sets'][number] {
  const kept = digest === null || digest === undefined ? null : (JSON.parse(digest) as SetDigest);
  const content = contentOf(text);
  try {
    const { name, frames, view = firstView(text) } = kept?.of === content ? kept : setDigest(text, readSetText(text));
    return { id, name, frames, content, view };
  } catch (e) {
    return { id, name: nameIn(text) ?? `Set ${id}`, frames: 0, content, view: null, problem: (e as Error).message };
  }
}

/** SetReply as JSON. @param file SetFile as JSON: what was just read or stored, and is not parsed again. */
export function setReplyText({ id, projectId, version, file: stored }: PlanSet, file: string): string {
  return `{"id":${id},"projectId":${projectId},"version":${version},"content":"${contentOf(stored)}","file":${file}}`;
}

/** Adds a set to a project. */
export async function addSet({ database }: ServerContext, projectId: number, columns: SetColumns): Promise<PlanSet> {
  return database.write((transaction) => PlanSet.create({ projectId, ...columns }, { transaction }));
}

/** Saves a set over the version that the page had. Throws a conflict where another page was faster. */
export async function saveSetFile({ database }: ServerContext, id: number, version: number, columns: SetColumns): Promise<PlanSet> {
  return database.write(async (transaction) => {
    const set = await PlanSet.findByPk(id, { transaction });
    if (!set) throw notFound(`Set ${id}`);
    if (set.version !== version)
      throw new ServerError(
        'conflict',
        'This set was changed elsewhere since it was read. Read it again, make the change on that, and save it over its version.',
      );
    set.set({ version: version + 1, ...columns });
    return set.save({ transaction });
  });
}

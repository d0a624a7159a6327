/** Where the renders of a reel's clips are: in its own batch, or in others of the set, of another revision or variant. */
import { hashOf } from '../../core/base/hash.js';
import type { Frame } from '../../core/frame/frame.js';
import { runOfTake } from '../../core/movie/reel.js';
import { shotName } from '../../core/shots/kinds.js';
import type { Reel, ReelEvent, ReelTake } from '../../core/plan/reel.js';
import type { ServerContext } from '../context.js';
import { Batch, BatchFrame, Revision } from '../db/models.js';
import { ServerError } from '../errors.js';
import { type BatchDigest, digestOfBatch, planSnapshot } from './snapshot.js';

/** Renders that a clip plays. */
export interface FoundTake {
  batch: Batch;
  /** In their order; some may not be done. */
  rows: BatchFrame[];
  /** The first of them as it was planned. */
  first: Frame;
}

/** What of a row movies are made of, told apart and put in order by. */
const FIELDS = ['id', 'batchId', 'position', 'number', 'state', 'files', 'checksums'];

/** What a batch has of a take; null where it has nothing. */
async function takeIn(context: ServerContext, batch: Batch, take: ReelTake): Promise<FoundTake | null> {
  const run = runOfTake(planSnapshot(batch).set, take);
  const rows = await BatchFrame.findAll({ where: { batchId: batch.id, shot: run }, attributes: FIELDS, order: ['position'] });
  if (rows.length === 0) return null;
  const from = rows[0]!.position;
  const planned = await (await context.planner.open(batch.plan)).frames(from, take.variant === undefined ? from + 1 : rows.at(-1)!.position + 1);
  // A still has its variants in one run, and a whole batch may be of one.
  const shown = take.variant === undefined ? rows : rows.filter((r) => planned[r.position - from]!.variant === take.variant);
  return shown.length > 0 ? { batch, rows: shown, first: planned[shown[0]!.position - from]! } : null;
}

const doneOf = ({ rows }: FoundTake): number => rows.filter((r) => r.state === 'done').length;

/** The renders of a take outside its batch: of the batch with the most of them done, the newest of several. */
async function takeElsewhere(context: ServerContext, own: Batch, revisionId: number, take: ReelTake): Promise<FoundTake | null> {
  const mine = digestOfBatch(own);
  const isLike = ({ draft, variant, problem }: BatchDigest): boolean =>
    problem === undefined && (draft !== undefined) === (mine.draft !== undefined) && (take.variant !== undefined || variant === mine.variant);
  let best: FoundTake | null = null;
  for (const batch of await Batch.findAll({ where: { setId: own.setId, revisionId, deleted: null }, order: [['id', 'DESC']] })) {
    if (batch.id === own.id || !isLike(digestOfBatch(batch))) continue;
    const found = await takeIn(context, batch, take);
    if (found && doneOf(found) > (best ? doneOf(best) : 0)) best = found;
  }
  return best;
}

/** A take in words: shot, variant and revision. */
function takeWords(own: Batch, { shot: id, variant: asked, revision }: ReelTake): string {
  const { set, variant: worn } = planSnapshot(own);
  const variant = asked ?? worn;
  const shot = set.shots.find((s) => s.id === id);
  const dressed = variant && (set.materials?.variants.find((v) => v.id === variant)?.name ?? variant);
  return `"${shot ? shotName(shot) : id}"${dressed ? ` in the variant "${dressed}"` : ''}${revision === undefined ? '' : ` of revision ${revision}`}`;
}

/** Id of the revision that a take is of. */
async function revisionOf(own: Batch, { revision }: ReelTake): Promise<number> {
  if (revision === undefined) return own.revisionId;
  const found = await Revision.findOne({ where: { projectId: own.projectId, letter: revision, deleted: null }, attributes: ['id'] });
  if (!found) throw new ServerError('unusable', `There is no revision ${revision} in this project. Choose another revision for the clip.`);
  return found.id;
}

async function findTake(context: ServerContext, own: Batch, take: ReelTake): Promise<FoundTake> {
  const revisionId = await revisionOf(own, take);
  const found = (revisionId === own.revisionId ? await takeIn(context, own, take) : null) ?? (await takeElsewhere(context, own, revisionId, take));
  if (found) return found;
  throw new ServerError(
    'unusable',
    `No batch of this set has renders of ${takeWords(own, take)}. Render them, or choose another variant or revision for the clip.`,
  );
}

/** The renders of each of a reel's clips. Throws ServerError 'unusable' where there are none of a clip. */
export async function findTakes(context: ServerContext, batch: Batch, reel: Reel): Promise<Map<ReelEvent, FoundTake>> {
  const known = new Map<string, FoundTake>();
  const takes = new Map<ReelEvent, FoundTake>();
  for (const part of reel.parts) {
    const key = hashOf([part.shot, part.variant ?? null, part.revision ?? null]);
    const found = known.get(key) ?? (await findTake(context, batch, part));
    known.set(key, found);
    takes.set(part, found);
  }
  return takes;
}

/** All renders of takes, each once: those of the reel's own batch first, then by batch, in their order. */
export function rowsOfTakes(own: Batch, takes: Iterable<FoundTake>): BatchFrame[] {
  const rows = new Map([...takes].flatMap((t) => t.rows).map((r) => [r.id, r]));
  const rank = (r: BatchFrame): number => (r.batchId === own.id ? -1 : r.batchId);
  return [...rows.values()].sort((a, b) => rank(a) - rank(b) || a.position - b.position);
}

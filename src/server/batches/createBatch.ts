/** Starts a batch: the plan is frozen, and every frame of it becomes a row. */
import { readdir } from 'node:fs/promises';
import type { Transaction } from 'sequelize';
import type * as z from 'zod';
import { type newBatch, PRIORITIES } from '../../contract/batches.js';
import { draftSet } from '../../core/edit/draftSet.js';
import { cutPartPaths } from '../../core/edit/remapParts.js';
import { type CompiledAssignments, firstMissingMaterial } from '../../core/materials/assignments.js';
import { textureFilesOf } from '../../core/materials/customMaterial.js';
import { setFolder } from '../../core/planning/planFrames.js';
import { backdropFiles, type SetFile, environmentFiles } from '../../core/plan/set.js';
import { PICTURES } from '../assets/assetStore.js';
import { MAX_TEXELS } from '../../formats/budget.js';
import type { ServerContext } from '../context.js';
import { Batch, type PlanSet, type Project, type Revision } from '../db/models.js';
import { ServerError } from '../errors.js';
import { type OpenPlan, PlanError } from '../planning/planner.js';
import { type PlanSnapshot, ROW_COLUMNS, ROWS_PER_QUERY } from '../planning/tasks.js';
import { looksOf } from './looks.js';
import { digestOfRevision, partsBelow, planContext } from '../revisions.js';
import { setFileOf } from '../sets.js';
import { withoutWords } from './frameStates.js';
import type { RequestKey } from './requestKey.js';
import { batchDigest } from './snapshot.js';

/** Throws ServerError 'unusable' where what the frames are made of is not here. */
async function checkAssets(context: ServerContext, set: SetFile, assignments: readonly CompiledAssignments[], revision: Revision): Promise<void> {
  const { store } = context;
  const brought = digestOfRevision(revision).materials;
  const lost = assignments.map((a) => firstMissingMaterial(a, brought)).find((name) => name !== null);
  if (lost !== undefined)
    throw new ServerError(
      'unusable',
      `There is no material "${lost}", neither in the set nor in the library nor in revision ${revision.letter}. Choose another on the Model step.`,
    );
  for (const path of cutPartPaths(set))
    if ((await partsBelow(context, revision, path)).length === 0)
      throw new ServerError(
        'unusable',
        `The part "${path}", which a section cuts, is not in revision ${revision.letter}. Remap or drop it under Changes on the Model step, or edit the section.`,
      );
  const textures = [...new Set(assignments.flatMap((a) => textureFilesOf(a.materials)))];
  for (const file of textures)
    if (!(await store.hasTexture(file)))
      throw new ServerError(
        'unusable',
        `The texture "${file}" of a material is not here. Import it in the Model step, or remove it from the material.`,
      );
  const texels = await store.texelsIn(textures);
  if (texels > MAX_TEXELS)
    throw new ServerError(
      'unusable',
      `The textures of the set's materials have ${texels.toLocaleString('en')} texels together; ${MAX_TEXELS.toLocaleString('en')} is the most. Import smaller ones.`,
    );
  for (const file of environmentFiles(set))
    if (!(await store.hasEnvironmentMap(file)))
      throw new ServerError('unusable', `The environment image "${file}" is not here. Import its file in the Stage step, or remove it.`);
  for (const file of backdropFiles(set))
    if (!(await store.hasTexture(file)))
      throw new ServerError('unusable', `The backdrop "${file}" is not here. Import its file in the Stage step, or remove it.`);
}

/** One statement for very many rows: the database takes them out of JSON itself. */
async function insertRows({ database }: ServerContext, batchId: number, from: number, rows: string, transaction: Transaction): Promise<void> {
  await database.sequelize.query(
    `INSERT INTO frames (batchId, position, ${ROW_COLUMNS.join(', ')}, state, attempts, files)
     SELECT $1, $2 + key, ${ROW_COLUMNS.map((_, i) => `json_extract(value, '$[${i}]')`).join(', ')}, 'waiting', 0, '[]' FROM json_each($3)`,
    { bind: [batchId, from, rows], transaction },
  );
}

/** Whether something lies at a folder of pictures that no batch has: an empty folder is what a start left that was cut off. */
async function isTaken(folder: string): Promise<boolean> {
  const there = await readdir(folder).catch((e: NodeJS.ErrnoException) => {
    if (e.code === 'ENOENT') return [];
    throw e;
  });
  return there.length > 0;
}

/** The set in one of its variants. Throws ServerError 'unusable' where it has none of that id. */
export function inVariant(set: SetFile, variant: string | undefined): SetFile {
  if (variant === undefined) return set;
  const { materials } = set;
  if (!materials?.variants.some((v) => v.id === variant))
    throw new ServerError('unusable', `There is no variant "${variant}" in the set "${set.name}"; choose another.`);
  return { ...set, materials: { ...materials, variant } };
}

/** What is said of a batch when it is started: NewBatch without its revision. */
export type BatchChoice = Omit<z.infer<typeof newBatch>, 'revision'>;

/** What of a choice is frozen with the plan. */
export type Frozen = Pick<PlanSnapshot, 'select' | 'variant' | 'acceptedFaults' | 'firstFrames' | 'spread' | 'draft' | 'anew'>;

/** The set as a choice renders it: its variant, its shots, its draft. Throws ServerError 'unusable' where nothing is left. */
export function chosenSet(row: PlanSet, { variant, shots, draft }: Pick<BatchChoice, 'variant' | 'shots' | 'draft'>): SetFile {
  const full = inVariant(setFileOf(row), variant);
  // A reel whose shots are not all there is none.
  const set = shots
    ? {
        ...full,
        shots: full.shots.filter((s) => shots.includes(s.id)),
        reels: full.reels?.filter((r) => r.parts.every((p) => shots.includes(p.shot))),
      }
    : full;
  if (set.shots.length === 0) throw new ServerError('unusable', 'There is nothing to render: the set has no shots. Add a still or a turntable.');
  return draft ? draftSet(set, draft) : set;
}

/** Freezes the set's plan on a revision; `request` is kept with it. Throws ServerError 'unusable' where it cannot be rendered. */
export async function createBatch(
  context: ServerContext,
  project: Project,
  row: PlanSet,
  revision: Revision,
  choice: BatchChoice = {},
  request: RequestKey | null = null,
): Promise<Batch> {
  const set = chosenSet(row, choice);
  const select = choice.select && (await withoutWords(context, { project, row, revision, set, choice }, choice.select));
  const { variant, acceptedFaults, firstFrames, spread, draft, anew } = choice;
  return freezeBatch(context, project, row, revision, set, { select, variant, acceptedFaults, firstFrames, spread, draft, anew }, choice, request);
}

/** Plans a batch under the next number and writes it down. */
export async function freezeBatch(
  context: ServerContext,
  project: Project,
  row: PlanSet,
  revision: Revision,
  set: SetFile,
  frozen: Frozen,
  choice: BatchChoice,
  request: RequestKey | null = null,
): Promise<Batch> {
  const { database } = context;
  const next = async (transaction?: Transaction): Promise<number> =>
    ((await Batch.max<number, Batch>('number', transaction && { transaction })) ?? 0) + 1;
  // The plan is made before the database is held, since it may take a while; where another batch takes its number meanwhile, anew.
  for (;;) {
    const number = await next();
    const planned = await planBatch(context, project, revision, set, { ...frozen, number });
    const batch = await database.write(async (transaction) =>
      (await next(transaction)) === number ? writeBatch(context, project, row, revision, { ...planned, choice, request }, transaction) : null,
    );
    if (batch) return batch;
  }
}

interface Planned {
  number: number;
  snapshot: PlanSnapshot;
  text: string;
  plan: OpenPlan;
}

async function planBatch(
  context: ServerContext,
  project: Project,
  revision: Revision,
  set: SetFile,
  { select, variant, acceptedFaults, firstFrames, spread = 1, draft, anew, number }: Frozen & { number: number },
): Promise<Planned> {
  const looks = await looksOf(set);
  const snapshot: PlanSnapshot = {
    set,
    context: planContext(project, revision, String(number)),
    ...(select && { select }),
    ...(variant && { variant }),
    ...(acceptedFaults && acceptedFaults.length > 0 && { acceptedFaults }),
    ...(firstFrames !== undefined && { firstFrames }),
    ...(spread > 1 && { spread }),
    ...(draft && { draft }),
    ...(anew && { anew }),
    ...(Object.keys(looks).length > 0 && { looks }),
    ...(revision.projectId !== project.id && { foreignModel: revision.fileName }),
  };
  const text = JSON.stringify(snapshot);
  try {
    const plan = await context.planner.open(text);
    await checkAssets(context, set, await plan.assignments(), revision);
    return { number, snapshot, text, plan };
  } catch (e) {
    throw e instanceof PlanError ? new ServerError('unusable', e.message) : e;
  }
}

async function writeBatch(
  context: ServerContext,
  project: Project,
  row: PlanSet,
  revision: Revision,
  { number, snapshot, text, plan, choice, request }: Planned & { choice: BatchChoice; request: RequestKey | null },
  transaction: Transaction,
): Promise<Batch> {
  // Each batch has a folder of its own, so that no batch can write over another's files. It is made with the first file.
  const folder = `${PICTURES}/${String(number).padStart(4, '0')}-${setFolder(snapshot.set)}${snapshot.draft ? '-draft' : ''}`;
  if (await isTaken(context.store.picture('.', folder)))
    throw new ServerError('conflict', `The folder "${folder}" has files in it already, left by something else. Move it away and start again.`);
  const batch = await Batch.create(
    {
      projectId: project.id,
      setId: row.id,
      revisionId: revision.id,
      number,
      state: 'queued',
      folder,
      plan: text,
      digest: JSON.stringify(batchDigest(snapshot)),
      total: plan.total,
      gate: snapshot.firstFrames === 0 ? null : choice.holdAfterFirst ? 'hold' : 'go',
      priority: PRIORITIES.indexOf(choice.priority ?? 'inTurn'),
      rank: ((await Batch.max<number, Batch>('rank', { transaction })) ?? 0) + 1,
      startAt: choice.startAt === undefined ? null : new Date(choice.startAt).toISOString(),
      created: new Date().toISOString(),
      request: request && JSON.stringify(request),
    },
    { transaction },
  );
  // While some rows are written, the planner makes the next.
  let next = plan.rows(0, ROWS_PER_QUERY);
  for (let from = 0; from < plan.total; from += ROWS_PER_QUERY) {
    const rows = await next;
    if (from + ROWS_PER_QUERY < plan.total) next = plan.rows(from + ROWS_PER_QUERY, from + 2 * ROWS_PER_QUERY);
    await insertRows(context, batch.id, from, rows, transaction);
  }
  return batch;
}

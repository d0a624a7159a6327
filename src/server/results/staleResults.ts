/** Which finished renders of a revision the set of today would render otherwise, and why. */
import { QueryTypes } from 'sequelize';
import type { StaleReply } from '../../contract/results.js';
import { changedGrounds, type Ground, GROUNDS } from '../../core/frame/identity.js';
import { isMoving } from '../../core/shots/kinds.js';
import { type AskedPlan, eachPlannedRow } from '../batches/frameStates.js';
import type { ServerContext } from '../context.js';

interface DoneRow {
  id: number;
  batchId: number;
  shot: string;
  number: number;
  kind: string | null;
  filesKey: string | null;
  grounds: string | null;
}

interface Group {
  batch: number;
  run: string;
  stale: number;
  unplanned: number;
  grounds: Set<Ground>;
  frames: number[] | null;
}

/** Drafts are other pictures by intent, so they are not asked about. Throws ServerError 'unusable' where the set cannot be planned. */
export async function staleResults(context: ServerContext, asked: AskedPlan): Promise<StaleReply> {
  const rows = await context.database.sequelize.query<DoneRow>(
    `SELECT f.id, f.batchId, f.shot, f.number, f.kind, f.filesKey, f.grounds FROM frames f JOIN batches b ON b.id = f.batchId
     WHERE b.setId = $1 AND b.revisionId = $2 AND b.deleted IS NULL AND f.state = 'done'
       AND json_extract(b.digest, '$.variant') IS $3 AND json_extract(b.digest, '$.draft') IS NULL
     ORDER BY f.batchId DESC, f.position`,
    { bind: [asked.row.id, asked.revision.id, asked.choice.variant ?? null], type: QueryTypes.SELECT },
  );
  if (rows.length === 0) return [];
  const planned = new Map<string, { filesKey: string; grounds: string }>();
  await eachPlannedRow(context, asked, (page) => {
    for (const row of page) planned.set(`${row.shot}\n${row.number}`, { filesKey: row.filesKey as string, grounds: row.grounds as string });
  });
  const groups = new Map<string, Group>();
  for (const { id, batchId, shot, number, kind, filesKey, grounds } of rows) {
    const key = `${batchId}\n${shot}`;
    const group = groups.get(key) ?? {
      batch: batchId,
      run: shot,
      stale: 0,
      unplanned: 0,
      grounds: new Set(),
      frames: isMoving(kind ?? '') ? null : [],
    };
    groups.set(key, group);
    const now = planned.get(`${shot}\n${number}`);
    if (!now) group.unplanned++;
    else if (now.filesKey !== filesKey) {
      group.stale++;
      group.frames?.push(id);
      for (const ground of grounds ? changedGrounds(grounds, now.grounds) : []) group.grounds.add(ground);
    }
  }
  return [...groups.values()]
    .filter((g) => g.stale + g.unplanned > 0)
    .map(({ frames, ...g }) => ({ ...g, grounds: [...g.grounds].map((name) => GROUNDS[name]), ...(frames && { frames }) }));
}

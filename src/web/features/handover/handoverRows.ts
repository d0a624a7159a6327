/** What of a set can be handed over: each shot's newest finished render of one revision, and the movies made of it. */
import type { BatchReply, ClipReply } from '../../../contract/batches.js';
import type { HandedRender } from '../../../contract/packages.js';
import type { ResultReply } from '../../../contract/results.js';

/** A run of frames that can be handed over. */
export interface HandoverRow {
  run: string;
  name: string;
  moving: boolean;
  size: { width: number; height: number } | undefined;
  renders: HandedRender[];
  /** A frame of each that stands for it. */
  covers: { batch: number; id: number; samples: number | null; view: string }[];
  /** Of all its renders together. */
  frames: number;
  done: number;
  accepted: number;
  redo: number;
  batch: BatchReply | undefined;
  /** Movies of the run in that batch. */
  movies: ClipReply[];
}

/** Newest finals of a revision, a row a run; of a still the newest of each view. @param results the newest batch first. */
export function handoverRows(results: readonly ResultReply[], batches: readonly BatchReply[], revision: number | undefined): HandoverRow[] {
  const rows = new Map<string, HandoverRow>();
  const seen = new Set<string>();
  for (const r of results) {
    const key = `${r.run}\n${r.view}\n${r.nth}`;
    if (r.draft || r.revisionId !== revision || seen.has(key)) continue;
    seen.add(key);
    const moving = r.nth === 0;
    const render: HandedRender = { batch: r.batch, run: r.run, ...(!moving && { frame: r.cover }) };
    const cover = { batch: r.batch, id: r.cover, samples: r.coverSamples, view: r.view };
    const known = rows.get(r.run);
    if (known) {
      known.renders.push(render);
      known.covers.push(cover);
      known.frames += r.total;
      known.done += r.done;
      known.accepted += r.accepted;
      known.redo += r.redo;
      continue;
    }
    const batch = batches.find((b) => b.id === r.batch);
    const movies = moving ? (batch?.clips.filter((c) => c.shot.split('#')[0] === r.run) ?? []) : [];
    const { run, name, size, total: frames, done, accepted, redo } = r;
    rows.set(run, { run, name, moving, size, renders: [render], covers: [cover], frames, done, accepted, redo, batch, movies });
  }
  return [...rows.values()].sort((a, b) => a.name.localeCompare(b.name));
}

/** How far a run is on its way to the client. */
export type RowState = 'redo' | 'incomplete' | 'accepted' | 'done';

/** The worst that is to be said of a row. */
export function stateOfRow({ frames, done, accepted, redo }: HandoverRow): RowState {
  if (redo > 0) return 'redo';
  if (done < frames) return 'incomplete';
  return accepted === done ? 'accepted' : 'done';
}

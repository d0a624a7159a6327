/** What is on the easel: chosen by the address, put there and taken away, with its frames. */
import { useSearchParams } from 'react-router';
import type { BatchReply } from '../../../contract/batches.js';
import type { ResultReply } from '../../../contract/results.js';
import type { SetFile } from '../../../core/plan/set.js';
import { useFrames } from '../../state/queries.js';
import { toast } from '../../state/toast.js';
import { type Chosen, chosenOf, formatChosen, PLACES, MAX_ON_EASEL, type Mode, parseChosen, sameChoice } from './easelItems.js';
import type { EaselSource } from './easelSources.js';
import { resultLabel } from './useWall.js';
import { MESSAGES } from './words.js';

/** Frames of what is on the easel; a hook a place, since their number must not change. */
function useEaselFrames(chosen: readonly Chosen[]) {
  const lists = [useFrames(chosen[0]?.batch), useFrames(chosen[1]?.batch), useFrames(chosen[2]?.batch), useFrames(chosen[3]?.batch)];
  return chosen.map(({ run }, i) => lists[i]!.data?.filter((f) => f.shot === run && f.state === 'done'));
}

/** What is looked at, as the address says it: the first by batch, shot and frame, the others by `with`. */
function useChosen(results: readonly ResultReply[]) {
  const [query, setQuery] = useSearchParams();
  const batch = Number(query.get('batch')) || results[0]?.batch;
  const own = results.filter((r) => r.batch === batch);
  const run = query.get('shot') ?? own[0]?.run;
  const first = own.find((r) => r.run === run) ?? own[0] ?? results[0];
  const frame = Number(query.get('frame')) || undefined;
  const chosen: Chosen[] = first
    ? [
        { batch: first.batch, run: first.run, ...(first.nth > 0 && { frame: frame ?? first.cover }) },
        ...query
          .getAll('with')
          .flatMap((text) => parseChosen(text) ?? [])
          .filter((c) => results.some((r) => r.batch === c.batch && r.run === c.run))
          .slice(0, MAX_ON_EASEL - 1),
      ]
    : [];
  const put = (list: readonly Chosen[], mode?: Mode): void =>
    setQuery((q) => {
      const next = new URLSearchParams(q);
      const [a, ...others] = list as [Chosen, ...Chosen[]];
      for (const key of ['batch', 'shot', 'frame', 'with', 'reel', 'mode']) next.delete(key);
      if (mode) next.set('mode', mode);
      next.set('batch', String(a.batch));
      next.set('shot', a.run);
      if (a.frame !== undefined) next.set('frame', String(a.frame));
      for (const c of others) next.append('with', formatChosen(c));
      return next;
    });
  const putFrame = (id: number): void =>
    setQuery(
      (q) => {
        const next = new URLSearchParams(q);
        next.set('frame', String(id));
        return next;
      },
      { replace: true },
    );
  return { chosen, frame, put, putFrame, query, setQuery };
}

/** What is on the easel. @param results of the set, the newest first. */
export function useOnEasel(results: readonly ResultReply[], batches: readonly BatchReply[], file: SetFile | undefined) {
  const address = useChosen(results);
  const { chosen, frame, put } = address;
  const onEasel = useEaselFrames(chosen);
  const placeOf = (result: ResultReply): string | undefined => {
    const own = chosenOf(result);
    const i = chosen.findIndex((c) => sameChoice(c, own));
    return i < 0 ? undefined : PLACES[i];
  };
  const add = (result: ResultReply): void => {
    const own = chosenOf(result);
    const rest = chosen.filter((c) => !sameChoice(c, own));
    if (rest.length < chosen.length) put(rest.length > 0 ? rest : chosen);
    else if (chosen.length === MAX_ON_EASEL) toast(MESSAGES.easelIsFull(MAX_ON_EASEL));
    else {
      const shown = onEasel[0]?.find((f) => f.id === (frame ?? chosen[0]?.frame)) ?? onEasel[0]?.[0];
      // Of another view than the one that is shown, it is what it is; of the same view, it goes with that.
      const stays = own.frame !== undefined && shown !== undefined && shown.view !== result.view;
      put([...chosen, stays ? { ...own, stays } : own]);
    }
  };
  const sources: EaselSource[] = chosen.flatMap(({ batch: id, run, frame: asked, stays }, i) => {
    const [batch, own] = [batches.find((b) => b.id === id), onEasel[i]];
    const result = results.find((r) => r.batch === id && r.run === run);
    return batch && own && own.length > 0 && result
      ? [
          {
            batch,
            run,
            label: resultLabel(result, file),
            frames: own,
            pinned: i > 0 && (stays || (id === chosen[0]!.batch && run === chosen[0]!.run)) ? asked : undefined,
            passes: result.passes ?? ['beauty'],
            revisionId: result.revisionId,
            variant: result.variant,
          },
        ]
      : [];
  });
  return { ...address, sources, placeOf, add };
}

/** Movies of a shot in the table of what is handed over: made, being made, behind their frames. */
import type { ReactNode } from 'react';
import useSWR, { mutate } from 'swr';
import type { ClipReply } from '../../../contract/batches.js';
import { CODEC_LIST } from '../../../core/movie/movieOptions.js';
import { get, send } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button } from '../../ui/controls.js';
import type { HandoverRow } from './handoverRows.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const CELL = 'border-b border-rule px-2 py-1.5';

const LINK = 'text-cobalt underline';

function stateOf({ state, share, message }: ClipReply, isStale: boolean): string {
  if (state === 'making') return share === undefined ? LABELS.movieWaits : MESSAGES.movieShare(Math.floor(100 * share));
  if (state === 'failed') return message ?? '';
  return isStale ? LABELS.movieStale : LABELS.made;
}

/** Movies of a run, each with its state. */
export function MovieRows({ row, onMake }: { row: HandoverRow; onMake: () => void }): ReactNode {
  const { batch, movies } = row;
  // Asked again when frames or movies of the batch have got on.
  const stamp = batch && `${batch.done} ${batch.state} ${movies.map((m) => m.id + m.state).join()}`;
  const { data: stale = [] } = useSWR<number[], Error>(
    batch && movies.some((m) => m.state === 'ready') ? `/batches/${batch.id}/clips/stale?of=${stamp}` : null,
    get,
    { keepPreviousData: true },
  );
  if (!row.moving) return null;
  const size = row.size ? `${row.size.width} × ${row.size.height}` : '';
  const act = (id: number, what: 'stop' | 'again') => (): void => {
    send('POST', `/clips/${id}/${what}`).then(
      () => batch && mutate(`/batches?project=${batch.projectId}`),
      (e: Error) => toastProblem(e.message),
    );
  };
  return (
    <>
      {movies.map((m) => (
        <tr key={m.id} className="text-graphite" data-testid="movie-row" data-state={m.state} data-stale={stale.includes(m.id) || undefined}>
          <td className={CELL} />
          <td className={CELL}>{LABELS.movieOf(row.name)}</td>
          <td className={CELL}>{CODEC_LIST[m.codec].label}</td>
          <td className={`${CELL} num`}>{size}</td>
          <td className={`${CELL} num text-right`}>{m.state === 'ready' ? 1 : 0}</td>
          <td className={`${CELL} ${stale.includes(m.id) ? 'text-ochre' : ''}`}>{stateOf(m, stale.includes(m.id))}</td>
          <td className={CELL}>
            <span className="flex gap-3">
              {m.state === 'ready' && (
                <a className={LINK} href={`/api/clips/${m.id}/movie?download`} download>
                  {LABELS.downloadMovie}
                </a>
              )}
              {m.state === 'making' && (
                <button type="button" className={LINK} onClick={act(m.id, 'stop')}>
                  {LABELS.stopMovie}
                </button>
              )}
              {(m.state === 'failed' || stale.includes(m.id)) && (
                <button type="button" className={LINK} title={HELP.makeAgain} onClick={act(m.id, 'again')}>
                  {LABELS.makeAgain}
                </button>
              )}
            </span>
          </td>
        </tr>
      ))}
      <tr>
        <td className={CELL} />
        <td className={CELL} colSpan={6}>
          <Button title={HELP.makeMovie} disabled={row.done < 2} onClick={onMake}>
            {LABELS.makeMovie}
          </Button>
        </td>
      </tr>
    </>
  );
}

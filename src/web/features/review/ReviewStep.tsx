/** Look and decide: the wall of all that was rendered of the set, and the easel with what is looked at. */
import { type ReactNode, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { ResultReply } from '../../../contract/results.js';
import { CELL_STATES, type CellState, COLUMN_KINDS, type ColumnKind, type WallColumn, type WallRow } from '../../../core/review/wall.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { useWorkspace } from '../../app/workspace.js';
import { useResults, useStale } from '../../state/results.js';
import { Button, EmptyState, PageHeader, Select } from '../../ui/controls.js';
import { Segments } from '../../ui/Segments.js';
import { Easel } from './Easel.js';
import { ChangesMenu } from './ChangesMenu.js';
import type { RowPair } from './changesRun.js';
import { chosenOf, MODES } from './easelItems.js';
import { LikelyNext, Resting } from './LikelyNext.js';
import { ReelEditor } from './ReelEditor.js';
import { RedoButton } from './RedoButton.js';
import { ReelList } from './ReelList.js';
import { cellState, columnLabel, resultLabel, stalenessOf, useStaleByRun, useWall } from './useWall.js';
import { useOnEasel } from './useOnEasel.js';
import { usePanel } from './usePanel.js';
import { ShareMenu } from './ShareMenu.js';
import { shownChoices } from './shownChoices.js';
import { Wall, type WallCellData } from './Wall.js';
import { WallPrint } from './WallPrint.js';
import { COLUMN_WORDS, HELP, LABELS, LAYOUT_WORDS, MESSAGES, SIZE_WORDS, STATE_WORDS } from './words.js';

/** Widths of a cell's picture, in CSS pixels. */
const CELL_WIDTHS = { small: 72, medium: 118, large: 240, largest: 420 } as const;
type CellSize = keyof typeof CELL_WIDTHS;
const ALL = 'all';
/** Wall and easel beside each other, or one of them alone. */
const LAYOUTS = ['both', 'wall', 'render'] as const;
type Layout = (typeof LAYOUTS)[number];

/** How the wall is told apart, filtered and sized. */
function WallTools({
  by,
  onBy,
  filter,
  onFilter,
  size,
  onSize,
}: {
  by: ColumnKind;
  onBy: (by: ColumnKind) => void;
  filter: string;
  onFilter: (filter: string) => void;
  size: CellSize;
  onSize: (size: CellSize) => void;
}): ReactNode {
  return (
    <div className="grid shrink-0 grid-cols-3 gap-3 border-b border-rule px-4 py-1.5">
      <Select
        label={LABELS.columns}
        help={HELP.columns}
        value={by}
        options={COLUMN_KINDS.map((k) => ({ value: k, label: COLUMN_WORDS[k] }))}
        onValue={(k) => onBy(k as ColumnKind)}
      />
      <Select
        label={LABELS.filter}
        help={HELP.filter}
        value={filter}
        options={[ALL, ...CELL_STATES.filter((s) => s !== 'none')].map((s) => ({
          value: s,
          label: s === ALL ? LABELS.all : STATE_WORDS[s as CellState],
        }))}
        onValue={onFilter}
      />
      <Select
        label={LABELS.cellSize}
        help={HELP.cellSize}
        value={size}
        options={Object.keys(CELL_WIDTHS).map((s) => ({ value: s, label: SIZE_WORDS[s as CellSize] }))}
        onValue={(s) => onSize(s as CellSize)}
      />
    </div>
  );
}

/** What is said where no render is finished, with the way to one. */
function NothingYet(): ReactNode {
  const { project, setId, batches } = useWorkspace();
  const navigate = useNavigate();
  const [step, label] = batches.length > 0 ? ['batch', LABELS.goToBatch] : ['shots', LABELS.planShots];
  return (
    <>
      <PageHeader title={LABELS.review} />
      <EmptyState title={HELP.noRenderIsFinished}>
        <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/${step}`)}>
          {label}
        </Button>
      </EmptyState>
    </>
  );
}

/** The step in which renders are judged. */
export default function ReviewStep(): ReactNode {
  const { project, setId, batches, plan, frames } = useWorkspace();
  const file = plan?.file;
  const results = useResults(setId, batches);
  const list = useMemo(() => results ?? [], [results]);
  const { chosen, frame, put, putFrame, query, setQuery, sources, placeOf, add } = useOnEasel(list, batches, file);
  const by = COLUMN_KINDS.find((k) => k === query.get('by')) ?? 'revision';
  const [filter, setFilter] = useState<string>(ALL);
  const [size, setSize] = useState<CellSize>('medium');
  const panel = usePanel();
  const [resting] = useState(() => new Resting());
  const [layout, setLayout] = useState<Layout>('both');
  const nextLayout = (): void => setLayout(LAYOUTS[(LAYOUTS.indexOf(layout) + 1) % LAYOUTS.length]!);
  useKeys({ w: nextLayout });
  useCommands([{ name: LABELS.nextLayout, keys: 'W', run: nextLayout }]);
  const wall = useWall(file, frames, list, by);
  const stale = useStaleByRun(useStale(setId, list, plan?.version ?? ''));
  const reel = file?.reels?.find((r) => r.id === query.get('reel'));

  if (results !== undefined && list.length === 0) return <NothingYet />;

  const viewName = (view: string): string => file?.views.find((v) => v.id === view)?.name ?? view;
  const cellOf = (row: WallRow, column: WallColumn<ResultReply>): WallCellData => {
    const [result] = wall.cell(row.key, column.key);
    const staleness = result ? stalenessOf(result, stale) : { stale: false, grounds: [] };
    return { result, state: cellState(result, row.planned, staleness), grounds: staleness.grounds };
  };
  const rows = filter === ALL ? wall.rows : wall.rows.filter((row) => wall.columns.some((c) => cellOf(row, c).state === filter));
  const pairsOf = (a: string, b: string): RowPair[] =>
    wall.rows.flatMap((row) => {
      const [first, second] = [wall.cell(row.key, a)[0], wall.cell(row.key, b)[0]];
      const name = [row.name, row.view && viewName(row.view)].filter(Boolean).join(', ');
      return first && second ? [{ key: row.key, name, first, second }] : [];
    });
  const labelled = wall.columns.map((column) => ({ column, label: columnLabel(by, column, file) }));
  const aspect = file ? file.sheet.size.width / file.sheet.size.height : 16 / 9;
  const width = CELL_WIDTHS[size];
  const [first] = sources;
  const done = list.reduce((n, r) => n + r.done, 0);
  const count = (what: 'accepted' | 'redo'): number => list.reduce((n, r) => n + r[what], 0);
  return (
    <>
      <PageHeader title={LABELS.review} facts={MESSAGES.reviewFacts(done, count('accepted'), count('redo'))}>
        <Segments label={LABELS.layout} title={HELP.layout} values={LAYOUTS} words={LAYOUT_WORDS} value={layout} onValue={setLayout} />
        <ShareMenu
          setId={setId}
          setName={file?.name ?? ''}
          choices={() => shownChoices(rows, wall.columns, cellOf, chosen, (r) => resultLabel(r, file), list)}
          wall={() => <WallPrint title={`${project.name}, ${file?.name ?? ''}`} rows={rows} columns={labelled} cellOf={cellOf} viewName={viewName} />}
        />
        <ChangesMenu
          setId={setId}
          setName={file?.name ?? ''}
          columns={labelled.map(({ column, label }) => ({ key: column.key, label }))}
          pairsOf={pairsOf}
          onOpen={({ first: a, second: b, frames: worst }) =>
            put(
              [
                { ...chosenOf(a), frame: worst.first },
                { ...chosenOf(b), ...(b.nth > 0 && { frame: worst.second }) },
              ],
              'difference',
            )
          }
        />
        <RedoButton results={list} />
      </PageHeader>
      <div className={`grid min-h-0 flex-1 ${layout === 'both' ? 'grid-cols-[minmax(280px,auto)_minmax(0,1fr)]' : 'grid-cols-[minmax(0,1fr)]'}`}>
        <aside
          className={`min-h-0 flex-col border-r border-rule bg-chalk ${layout === 'render' ? 'hidden' : 'flex'} ${layout === 'both' ? 'max-w-[46vw]' : ''}`}
        >
          <WallTools
            by={by}
            onBy={(to) => setQuery((q) => new URLSearchParams({ ...Object.fromEntries(q), by: to }))}
            filter={filter}
            onFilter={setFilter}
            size={size}
            onSize={setSize}
          />
          {file && (
            <Wall
              rows={rows}
              columns={labelled}
              cellOf={cellOf}
              viewName={viewName}
              cell={{ width, height: Math.round(width / Math.min(3, Math.max(0.5, aspect))) }}
              placeOf={placeOf}
              onShow={(result) => {
                put([chosenOf(result)]);
                if (layout === 'wall') setLayout('both');
              }}
              onAdd={add}
              onRest={(result) => resting.rest(result)}
            />
          )}
          <LikelyNext resting={resting} />
          <ReelList reels={file?.reels ?? []} shown={reel?.id} onReel={(id) => setQuery({ batch: String(chosen[0]?.batch ?? ''), reel: id })} />
        </aside>
        {reel && first && <ReelEditor key={`${first.batch.id} ${reel.id}`} batch={first.batch} reel={reel} />}
        {!reel && first && layout !== 'wall' && (
          <Easel
            key={`${first.batch.id} ${first.run} ${query.get('mode') ?? ''}`}
            sources={[first, ...sources.slice(1)]}
            frame={frame ?? chosen[0]?.frame}
            onFrame={putFrame}
            onRemove={(place) => put(chosen.filter((_, i) => i !== place))}
            mode={MODES.find((m) => m === query.get('mode'))}
            panel={panel}
            base={`/p/${project.id}/s/${setId}`}
            setId={setId}
          />
        )}
      </div>
    </>
  );
}

/** The views of the set: a picture each, or a table; copied, locked, put in order. */
import { type ReactNode, useState } from 'react';
import { ArrowLeft, ArrowRight, Copy, Layers, Lock, LockOpen, Table } from 'lucide-react';
import type { Size, View } from '../../../core/camera/view.js';
import { viewRows, viewsCsv } from '../../../core/camera/viewTable.js';
import { useWorkspace } from '../../app/workspace.js';
import { type MenuAction, menuOf } from '../../ui/contextMenu.js';
import { Thumbnail, thumbnailUrl } from '../../ui/Thumbnail.js';
import { AlignmentTable } from './AlignmentTable.js';
import type { ViewEditor } from './useViewEditor.js';
import { LABELS, MESSAGES } from './words.js';

/** The views, and how they are drawn. */
export interface ViewListProps {
  setId: number;
  setName: string;
  revision: number;
  version: string;
  views: View[];
  chosen: View | undefined;
  size: Size;
  pixelAspect: number;
  onChoose: (id: string) => void;
  editor: ViewEditor;
}

/** What can be done with a view, in the toolbar and by a right click. */
function viewActions({ views, editor }: ViewListProps, view: View): Record<'copy' | 'lock' | 'earlier' | 'later' | 'remove', MenuAction> {
  const at = views.indexOf(view);
  return {
    copy: { label: LABELS.duplicate, run: () => editor.copy(view.id) },
    lock: { label: view.locked ? LABELS.unlock : LABELS.lock, run: () => editor.lock(view.id, !view.locked) },
    earlier: { label: LABELS.moveEarlier, disabled: at <= 0, run: () => editor.order(view.id, -1) },
    later: { label: LABELS.moveLater, disabled: at === views.length - 1, run: () => editor.order(view.id, 1) },
    remove: { label: LABELS.deleteView, run: () => editor.remove(view.id) },
  };
}

const menuOfView = (props: ViewListProps, view: View) => menuOf(view.name, () => Object.values(viewActions(props, view)));

const lensWord = (view: View): string =>
  view.kind === 'perspective'
    ? `${Number(view.focalLength.toFixed(1))} mm`
    : view.kind === 'parallel'
      ? `↔ ${Number(view.width!.toPrecision(3))} m`
      : '360°';

/** A button of the toolbar. One that is `brief` shows its icon alone in narrow windows, so that all stay in one row. */
function Tool({ label, disabled, run, brief, children }: MenuAction & { brief?: true; children: ReactNode }): ReactNode {
  return (
    <button
      type="button"
      className="inline-flex items-center gap-1 text-sm text-graphite disabled:opacity-40"
      disabled={disabled}
      title={brief && label}
      onClick={run}
    >
      {children} <span className={brief && 'max-xl:sr-only'}>{label}</span>
    </button>
  );
}

function Rows(props: ViewListProps): ReactNode {
  const { views, chosen, size, pixelAspect, onChoose } = props;
  const point = (p: readonly number[]): string => p.map((v) => v.toFixed(2)).join(' ');
  return (
    <table className="w-full border-collapse text-sm">
      <thead className="sticky top-0 bg-paper text-left font-head">
        <tr className="border-b border-rule">
          {[LABELS.view, LABELS.group, LABELS.kind, LABELS.eyeM, LABELS.targetM, LABELS.lens, LABELS.angle, LABELS.pitch].map((h) => (
            <th key={h} className="pr-3 font-semibold">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {viewRows(views, size, pixelAspect).map((row, i) => {
          const view = views[i]!;
          return (
            <tr
              key={view.id}
              aria-selected={view === chosen}
              className={`border-b border-rule ${view === chosen ? 'bg-chalk' : ''}`}
              onContextMenu={menuOfView(props, view)}
            >
              <td className="pr-3">
                <button type="button" className="font-medium" onClick={() => onChoose(view.id)}>
                  {row.name}
                </button>
              </td>
              <td className="pr-3 text-graphite">{row.group}</td>
              <td className="pr-3 text-graphite">{row.kind}</td>
              <td className="num pr-3">{point(row.eye)}</td>
              <td className="num pr-3">{point(row.target)}</td>
              <td className="num pr-3">{lensWord(view)}</td>
              <td className="num pr-3">{row.angle === null ? '–' : `${row.angle.toFixed(1)}°`}</td>
              <td className="num">{row.pitch.toFixed(1)}°</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function Pictures(props: ViewListProps): ReactNode {
  const { setId, revision, version, views, chosen, onChoose } = props;
  const groups = [...new Set(views.map((v) => v.group))];
  return (
    <>
      {groups.map((group) => (
        <section key={group ?? ''} className="mb-2" aria-label={group ?? LABELS.views}>
          {groups.length > 1 && <h2 className="font-head text-xs font-medium text-graphite">{group ?? LABELS.noGroup}</h2>}
          <div className="flex flex-wrap gap-x-2.5 gap-y-2">
            {views
              .filter((v) => v.group === group)
              .map((view) => (
                <button
                  key={view.id}
                  type="button"
                  onClick={() => onChoose(view.id)}
                  onContextMenu={menuOfView(props, view)}
                  className={`w-[142px] border-b-[3px] pb-1 text-left ${view === chosen ? 'border-madder font-semibold' : 'border-transparent'}`}
                >
                  <span className="flex h-[80px] items-center justify-center bg-mount">
                    <Thumbnail src={thumbnailUrl(setId, revision, { view: view.id }, version, 320)} alt="" className="size-full object-contain" />
                  </span>
                  <span className="flex items-baseline justify-between gap-2 pt-1">
                    <span className="truncate">
                      {view.locked && <Lock size={11} aria-label={LABELS.locked} className="mr-1 inline" />}
                      {view.name}
                    </span>
                    <span className="num text-xs text-graphite">{lensWord(view)}</span>
                  </span>
                </button>
              ))}
          </div>
        </section>
      ))}
    </>
  );
}

/** The views, each with its thumbnail. */
export function ViewList(props: ViewListProps): ReactNode {
  const { views, chosen, size, pixelAspect, setName } = props;
  const { project } = useWorkspace();
  const [look, setLook] = useState<'pictures' | 'table' | 'revisions'>('pictures');
  const actions = chosen && viewActions(props, chosen);
  return (
    <div className="flex min-h-0 min-w-0 flex-col">
      {views.length > 0 && (
        <div className="flex shrink-0 flex-wrap gap-x-4 border-b border-rule px-4 py-1" role="toolbar" aria-label={LABELS.views}>
          {actions && (
            <>
              <Tool {...actions.copy}>
                <Copy size={14} aria-hidden />
              </Tool>
              <Tool {...actions.lock}>{chosen.locked ? <LockOpen size={14} aria-hidden /> : <Lock size={14} aria-hidden />}</Tool>
              <Tool {...actions.earlier} brief>
                <ArrowLeft size={14} aria-hidden />
              </Tool>
              <Tool {...actions.later} brief>
                <ArrowRight size={14} aria-hidden />
              </Tool>
            </>
          )}
          <Tool label={look === 'pictures' ? LABELS.table : LABELS.thumbnails} run={() => setLook(look === 'pictures' ? 'table' : 'pictures')}>
            <Table size={14} aria-hidden />
          </Tool>
          {project.revisions.length > 1 && look !== 'revisions' && (
            <Tool label={LABELS.alignment} run={() => setLook('revisions')}>
              <Layers size={14} aria-hidden />
            </Tool>
          )}
          <a
            className="text-sm text-cobalt underline"
            href={`data:text/csv;charset=utf-8,${encodeURIComponent(viewsCsv(views, size, pixelAspect))}`}
            download={`${setName} views.csv`}
          >
            {LABELS.exportCsv}
          </a>
        </div>
      )}
      <div className="min-h-0 flex-1 overflow-auto px-4 py-2">
        {views.length === 0 && <p className="text-graphite">{MESSAGES.orbitToWhatThe}</p>}
        {look === 'revisions' ? <AlignmentTable /> : look === 'table' ? <Rows {...props} /> : <Pictures {...props} />}
      </div>
    </div>
  );
}

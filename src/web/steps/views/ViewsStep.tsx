import { type ReactNode, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { type OfferedViewReply } from '../../../contract/contract.js';
import { placedOf, withPlinth } from '../../../core/model/place.js';
import { type SetFile } from '../../../core/plan/set.js';
import { boundsOf } from '../../../core/plan/framesOf.js';
import { freeId, freeName, moved as reordered, withAngleSet, withCopy, withoutView, withView } from '../../../core/plan/edit.js';
import { litStage } from '../../../core/stage/stage.js';
import { cameraOf, fitView, panoramaSize, type View, viewProblem } from '../../../core/view/camera.js';
import { type AngleSetOptions, toScaleOf } from '../../../core/view/angles.js';
import { firstView } from '../../../core/view/first.js';
import { centreOf, type Vec3 } from '../../../core/geometry/bounds.js';
import { ViewPlan } from '../../instruments/ViewPlan.js';
import { useCommands } from '../../shell/commands.js';
import { useDesk } from '../../shell/desk.js';
import { useKeys } from '../../shell/keys.js';
import { Button, Empty, Select, StepHead } from '../../ui/controls.js';
import { drawingUrl } from '../../ui/small.js';
import { Viewport } from '../../viewport/Viewport.js';
import { AngleSetMenu } from './AngleSetMenu.js';
import { FileCameras } from './FileCameras.js';
import { SectionFields } from './SectionFields.js';
import { useLive } from './useLive.js';
import { ViewFields } from './ViewFields.js';
import { ViewList } from './ViewList.js';
import { ViewShows } from './ViewShows.js';

/** Name the views: orbit to one, or set it by numbers; the frame shows exactly what renders. */
export default function ViewsStep(): ReactNode {
  const { project, setId, revision, plan } = useDesk();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const [moved, setMoved] = useState<{ of: string; eye: Vec3; target: Vec3; width?: number } | null>(null);
  const { file, version, edit } = plan!;
  const { sheet, views } = file;
  const selected = views.find((v) => v.id === query.get('view')) ?? views[0];
  const bounds = revision && boundsOf(file, revision.bounds);
  const shown = useMemo((): View | null => {
    if (!bounds) return null;
    const base = selected ?? firstView(bounds, sheet.size, sheet.pixelAspect);
    return moved && moved.of === (selected?.id ?? 'new')
      ? {
          ...base,
          eye: moved.eye,
          target: moved.target,
          width: moved.width ?? base.width,
          uprights: base.uprights && viewProblem({ ...base, ...moved }) === null,
        }
      : base;
  }, [selected, moved, bounds, sheet]);
  const loose = moved !== null && moved.of === (selected?.id ?? 'new');

  const said = (problem: string | null): void => {
    if (problem) toast.error(problem);
  };
  const keep = (): void => {
    if (!shown || !revision) return;
    const name = freeName(
      'View',
      views.map((v) => v.name),
    );
    const view = {
      ...shown,
      name,
      id: freeId(
        name,
        views.map((v) => v.id),
      ),
    };
    // The bounds that pivots and lamps refer to are frozen with the first view.
    const problem = edit((f) => ({ ...withView(f, view), reference: boundsOf(f, revision.bounds) }));
    if (problem) toast.error(problem);
    setMoved(null);
    setQuery({ view: view.id });
  };
  const takeOver = (cameras: OfferedViewReply[]): void => {
    if (!revision) return;
    let last = '';
    const problem = edit((f) => {
      let next: SetFile = { ...f, reference: boundsOf(f, revision.bounds) };
      for (const camera of cameras) {
        const name = freeName(
          camera.name,
          next.views.map((v) => v.name),
        );
        last = freeId(
          name,
          next.views.map((v) => v.id),
        );
        next = withView(next, { ...camera, id: last, name });
      }
      return next;
    });
    if (problem) toast.error(problem);
    else setQuery({ view: last });
    setMoved(null);
  };
  const change = (values: Partial<View>): string | null => {
    if (!shown) return null;
    if (selected?.locked) return `"${selected.name}" is locked; unlock it to change it.`;
    const next = { ...shown, ...values };
    if (!selected) {
      setMoved({ of: 'new', eye: next.eye as Vec3, target: next.target as Vec3 });
      return null;
    }
    const problem = edit((f) => withView(f, { ...next, id: selected.id, name: values.name ?? selected.name }));
    if (!problem) setMoved(null);
    return problem;
  };
  const fit = (): void => {
    if (!shown || !bounds) return;
    const { eye, target, width } = fitView(shown, bounds, sheet.size, sheet.pixelAspect);
    said(change({ eye, target, width }));
  };
  const toScale = (id: string): void => {
    const other = views.find((v) => v.id === id);
    if (!shown || !bounds || !other) return;
    try {
      const { eye, target, width } = toScaleOf(shown, other, sheet.size, sheet.pixelAspect, centreOf(bounds));
      said(change({ eye, target, width }));
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  const makeAngles = (options: AngleSetOptions, group: string): void => {
    if (!revision || !bounds) return;
    const made = withAngleSet({ ...file, reference: boundsOf(file, revision.bounds) }, bounds, options, group);
    const problem = edit(() => made.set);
    said(problem);
    setMoved(null);
    if (!problem) setQuery({ view: made.ids[0]! });
  };
  const choose = (id: string): void => {
    setMoved(null);
    setQuery({ view: id });
  };
  const remove = (): void => {
    try {
      const id = selected!.id;
      const without = withoutView(file, id);
      edit(() => without);
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  useKeys({ f: fit, 'ctrl+Enter': keep });
  useCommands([
    { name: 'Keep as a new view', keys: 'Ctrl Enter', run: keep },
    { name: 'Fit the view', keys: 'F', run: fit },
    ...views.map((v) => ({ name: `Look from ${v.name}`, run: () => choose(v.id) })),
  ]);
  const live = useLive(shown);

  if (!revision || !shown || !bounds) {
    return (
      <>
        <StepHead title="Views" />
        <Empty title="A view looks at a model, and there is none yet.">
          <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/model`)}>
            Bring in a model
          </Button>
        </Empty>
      </>
    );
  }
  const around = shown.kind === 'panorama';
  const size = around ? panoramaSize(sheet.size) : sheet.size;
  // The viewport knows no panorama: it looks the same way through 90°.
  const camera = around
    ? cameraOf({ ...shown, kind: 'perspective', focalLength: 18, uprights: false }, size, 1)
    : cameraOf(shown, size, sheet.pixelAspect);
  const move = ({ eye, target }: { eye: Vec3; target: Vec3 }): void => {
    const of = selected?.id ?? 'new';
    // Going nearer in a parallel view is seeing less of it.
    const far = (a: readonly number[], b: readonly number[]): number => Math.hypot(...a.map((v, i) => v - b[i]!));
    const width = shown.kind === 'parallel' ? (shown.width! * far(eye, target)) / far(shown.eye, shown.target) : undefined;
    setMoved({ of, eye, target, width });
  };
  return (
    <>
      <StepHead
        title="Views"
        facts={
          views.length > 0
            ? `${views.length} ${views.length === 1 ? 'view' : 'views'}`
            : 'drag to orbit, shift-drag to move along, wheel to go nearer'
        }
      >
        {live.controls}
        <Button onClick={fit} title="f">
          Fit
        </Button>
        <AngleSetMenu onMake={makeAngles} />
        {loose && selected && <Button onClick={() => said(change({}))}>Update {selected.name}</Button>}
        <Button primary onClick={keep} title="Ctrl+Enter">
          Keep as a new view
        </Button>
      </StepHead>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_252px] grid-rows-[minmax(0,1fr)_auto]">
        <Viewport
          revision={revision.id}
          camera={camera}
          size={size}
          pixelAspect={around ? 1 : sheet.pixelAspect}
          stage={litStage(file.stage, withPlinth(file.place, bounds))}
          onMove={move}
          section={file.section}
          dressing={file.dressing}
          place={placedOf(file.place, revision.bounds)}
          grade={file.grade}
          picture={live.picture}
        >
          {live.caption}
          <p className="num mark pointer-events-none absolute left-4 top-2 text-sm">
            {size.width} × {size.height}
          </p>
          {shown.uprights && (
            <p className="num mark pointer-events-none absolute bottom-2 left-4 text-sm">uprights, shift {camera.shift.toFixed(2)}</p>
          )}
          {loose && (
            <p className="mark pointer-events-none absolute right-4 top-2 text-sm">{selected ? `moved off ${selected.name}` : 'not kept yet'}</p>
          )}
        </Viewport>
        <aside className="row-span-2 flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule bg-chalk px-4 py-3">
          <ViewFields view={shown} kept={selected !== undefined} size={sheet.size} pixelAspect={sheet.pixelAspect} onChange={change} />
          {selected && views.length > 1 && (
            <Select
              label="To the scale of"
              help="Moves the eye, or changes the width of a parallel view, so that the middle of the subject has as many pixels a metre as in the other view."
              value=""
              options={views.filter((v) => v.id !== selected.id && v.kind !== 'panorama').map((v) => ({ value: v.id, label: v.name }))}
              onValue={toScale}
            />
          )}
          {selected && <ViewShows view={shown} onChange={change} />}
          <SectionFields bounds={bounds} />
          <FileCameras cameras={revision.cameras} onTake={takeOver} />
          {live.asked}
          {selected && (
            <Button className="mt-auto self-start" onClick={remove}>
              Take this view out
            </Button>
          )}
        </aside>
        <div className="grid h-[236px] grid-cols-[236px_minmax(0,1fr)] border-t border-ink">
          <ViewPlan
            picture={drawingUrl(setId, revision.id, version, 'plan')}
            bounds={withPlinth(file.place, bounds)}
            views={views}
            chosen={shown}
            size={sheet.size}
            pixelAspect={sheet.pixelAspect}
            {...(file.stage.site && { north: file.stage.site.north })}
            onChoose={choose}
            onMove={(pose, done) => {
              if (done && selected) change(pose);
              else move(pose);
            }}
          />
          <ViewList
            setId={setId}
            setName={file.name}
            revision={revision.id}
            version={version}
            views={views}
            chosen={selected}
            size={sheet.size}
            pixelAspect={sheet.pixelAspect}
            onChoose={choose}
            onCopy={() => {
              const { set, id } = withCopy(file, selected!.id);
              said(edit(() => set));
              setQuery({ view: id });
            }}
            onLock={() => said(edit((f) => withView(f, { ...selected!, locked: selected!.locked ? undefined : true })))}
            onOrder={(by) =>
              said(
                edit((f) => ({
                  ...f,
                  views: reordered(
                    f.views,
                    f.views.findIndex((v) => v.id === selected!.id),
                    by,
                  ),
                })),
              )
            }
          />
        </div>
      </div>
    </>
  );
}

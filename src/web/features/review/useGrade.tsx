/** Grading after the fact: tried on the render that is shown, applied to the set, and files written again from masters. */
import { SlidersHorizontal } from 'lucide-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import { type Frame, shotIdOfOutput } from '../../../core/frame/frame.js';
import { type Grade, gradeSchema } from '../../../core/image/grade.js';
import { passesOfMix } from '../../../core/image/mix.js';
import type { PassId } from '../../../core/image/passes.js';
import { effectiveSettings } from '../../../core/plan/formatSheet.js';
import { gradedFields, gradeOf, type GradeScope, gradeScopes, withGrade } from '../../../core/plan/grading.js';
import type { SetFile } from '../../../core/plan/set.js';
import { describeIssues } from '../../../core/base/issues.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { useWorkspace } from '../../app/workspace.js';
import { ExposureField, GradeControls } from '../../forms/GradeControls.js';
import { SheetGrade } from '../../forms/SheetGrade.js';
import { send } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, Select } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';
import { type GradeAsk, type GradedImages, useGraded } from '../../grade/gradeJob.js';
import { renderingOf } from './PictureMount.js';
import { ScopesView } from './ScopesView.js';
import type { Placed } from './useZoom.js';
import { GRADE_OWNERS, GRADE_SCOPE_LABELS } from './gradeWords.js';
import type { PanelOpen } from './usePanel.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** The grade of the render, as parts of the page. */
export interface GradeView {
  overlay: (placed: Placed) => ReactNode;
  panel: ReactNode;
  button: ReactNode;
}

function GradedCanvas({ images, placed, alt }: { images: GradedImages; placed: Placed; alt: string }): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => images.drawOn(canvas.current!), [images]);
  const { left, top, width, height } = placed;
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={alt}
      data-testid="graded"
      className="pointer-events-none absolute bg-mount"
      style={{ left, top, width, height, imageRendering: renderingOf(placed) }}
    />
  );
}

/** Address of the light that a grade begins with. */
function lightOf(batch: number, frame: number, { grade, sampling }: Pick<Frame, 'grade' | 'sampling'>, passes: readonly PassId[]): string {
  const mixed = grade.mix ? passesOfMix(grade.mix).filter((id) => passes.includes(id)) : [];
  const query = [...(mixed.length > 0 ? [`mix=${mixed.join()}`] : []), ...(sampling.mode === 'traced' ? [`denoise=${sampling.denoise}`] : [])];
  return `/api/batches/${batch}/frames/${frame}/linear${query.length > 0 ? `?${query.join('&')}` : ''}`;
}

/** @param result revision and variant that the render's batch was started for, and the passes that it has. */
export function useGrade(
  batch: BatchReply,
  frame: FrameReply,
  result: { revisionId: number; variant?: string | undefined; passes: readonly PassId[] },
  { open, setOpen }: PanelOpen,
): GradeView {
  const { project, setId, plan } = useWorkspace();
  const navigate = useNavigate();
  const [own, setOwn] = useState<Grade | null>(null);
  const [before, setBefore] = useState(false);
  const [busy, setBusy] = useState(false);
  const [clipping, setClipping] = useState(false);
  const of = { shot: shotIdOfOutput(frame.shot), view: frame.view };
  const saved = plan && gradeOf(plan.file, of);
  const scopes = plan ? gradeScopes(plan.file, of) : [];
  const [chosen, setChosen] = useState<GradeScope | null>(null);
  const scope = chosen && scopes.includes(chosen) ? chosen : (saved?.scope ?? 'set');
  const grade = own ?? saved?.grade;
  const shot = plan?.file.shots.find((s) => s.id === of.shot);
  const sheet = plan && (shot ? effectiveSettings(plan.file.sheet, shot) : plan.file.sheet);
  const askFor = (tried: Grade): GradeAsk | null => {
    const fields = sheet && gradedFields(sheet, tried);
    return fields ? { url: lightOf(batch.id, frame.id, fields, result.passes), grade: tried, lines: fields.lines ?? null, clipping } : null;
  };
  const graded = useGraded(open && grade ? askFor(grade) : null);
  const put = (values: Partial<Grade>): string | null => {
    const next = gradeSchema.safeParse({ ...grade, ...values });
    if (!next.success) return describeIssues(next.error).join('\n');
    setOwn(next.data);
    const ask = askFor(next.data);
    if (ask) graded.post(ask);
    return null;
  };
  const apply = (change: (file: SetFile) => SetFile): void => {
    const problem = plan?.edit(change);
    if (problem) toastProblem(problem);
    else setOwn(null);
  };
  const write = async (): Promise<void> => {
    setBusy(true);
    try {
      await plan?.flush();
      const { variant, revisionId } = result;
      const made = await send<BatchReply>('POST', `/sets/${setId}/batches`, {
        revision: revisionId,
        ...(variant && { variant }),
        ...(scope !== 'set' && { shots: [of.shot] }),
      });
      void navigate(`/p/${project.id}/s/${setId}/batch?batch=${made.id}`);
    } catch (e) {
      toastProblem((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const toggle = (): void => setOpen(!open);
  useKeys({ g: toggle, b: open ? () => setBefore(!before) : undefined });
  useCommands([
    { name: LABELS.grade, keys: 'G', run: toggle },
    ...(open ? [{ name: before ? LABELS.showAfter : LABELS.showBefore, keys: 'B', run: () => setBefore(!before) }] : []),
  ]);
  return {
    overlay: (placed) => open && !before && graded.images && <GradedCanvas images={graded.images} placed={placed} alt={LABELS.gradedRender} />,
    button: (
      <Button aria-pressed={open} title={HELP.grade} onClick={toggle}>
        <SlidersHorizontal size={16} aria-hidden /> {LABELS.grade}
      </Button>
    ),
    panel: open && grade && saved && sheet && (
      <section aria-label={LABELS.grade} className="flex min-h-0 w-72 shrink-0 flex-col gap-3 border-l border-rule bg-chalk p-3">
        <span className="flex items-center justify-between">
          <Button aria-pressed={before} title={HELP.before} onClick={() => setBefore(!before)}>
            {before ? LABELS.showAfter : LABELS.showBefore}
          </Button>
          <PresetMenu
            kind="grade"
            what="grade"
            body={grade}
            onUse={(body) => {
              setOwn(body);
              return null;
            }}
          />
        </span>
        {graded.problem && (
          <p role="alert" className="text-sm text-ochre">
            {graded.problem}
          </p>
        )}
        <ScopesView scopes={graded.scopes} pending={!graded.scopes && !graded.problem} clipping={clipping} onClipping={setClipping} />
        <div className="-mx-3 flex min-h-0 flex-1 flex-col gap-3 overflow-auto border-t border-rule px-3 pt-3">
          <ExposureField exposure={grade.exposure} onExposure={(exposure) => put({ exposure })} />
          <GradeControls grade={grade} passes={result.passes} put={put} />
          <SheetGrade grade={grade} sheet={sheet} put={put} />
        </div>
        <div className="-mx-3 grid grid-cols-2 items-end gap-2 border-t border-rule px-3 pt-3">
          <Select
            label={LABELS.gradeScope}
            help={HELP.gradeScope}
            value={scope}
            options={scopes.map((value) => ({ value, label: GRADE_SCOPE_LABELS[value] }))}
            onValue={(value) => setChosen(value as GradeScope)}
          />
          <Button title={HELP.applyGrade} onClick={() => own && apply((f) => withGrade(f, of, scope, own))}>
            {LABELS.applyGrade}
          </Button>
          <Button disabled={own !== null || busy} title={HELP.writeAgain} onClick={() => void write()}>
            {LABELS.writeAgain}
          </Button>
          <Button disabled={own === null} onClick={() => setOwn(null)}>
            {LABELS.resetGrade}
          </Button>
          {saved.scope !== 'set' && (
            <Button className="col-span-2" title={HELP.removeGrade} onClick={() => apply((f) => withGrade(f, of, saved.scope, undefined))}>
              {LABELS.removeGrade}
            </Button>
          )}
          <p className="col-span-2 text-xs text-graphite">{own !== null ? MESSAGES.gradeTried : MESSAGES.gradeIsOf(GRADE_OWNERS[saved.scope])}</p>
        </div>
      </section>
    ),
  };
}

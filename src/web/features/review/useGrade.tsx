/** Grading after the fact: tried on the render that is shown, applied to the set, and files written again from masters. */
import { SlidersHorizontal } from 'lucide-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { BatchReply, FrameReply } from '../../../contract/batches.js';
import { shotIdOfOutput } from '../../../core/frame/frame.js';
import { type Grade, gradeSchema } from '../../../core/image/grade.js';
import { describeIssues } from '../../../core/base/issues.js';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { useWorkspace } from '../../app/workspace.js';
import { ExposureField, GradeControls } from '../../forms/GradeControls.js';
import { send } from '../../state/api.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';
import { useGraded } from './gradeJob.js';
import { renderingOf } from './PictureMount.js';
import type { Placed } from './useZoom.js';
import { HELP, LABELS, MESSAGES } from './words.js';

export interface GradeView {
  overlay: (placed: Placed) => ReactNode;
  panel: ReactNode;
  button: ReactNode;
}

function GradedCanvas({ image, placed, alt }: { image: ImageBitmap; placed: Placed; alt: string }): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => canvas.current!.getContext('2d')!.drawImage(image, 0, 0), [image]);
  const { left, top, width, height } = placed;
  return (
    <canvas
      ref={canvas}
      width={image.width}
      height={image.height}
      role="img"
      aria-label={alt}
      data-testid="graded"
      className="pointer-events-none absolute bg-mount"
      style={{ left, top, width, height, imageRendering: renderingOf(placed) }}
    />
  );
}

/** @param result revision and variant that the render's batch was started for. */
export function useGrade(batch: BatchReply, frame: FrameReply, result: { revisionId: number; variant?: string | undefined }): GradeView {
  const { project, setId, plan } = useWorkspace();
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const [own, setOwn] = useState<Grade | null>(null);
  const [before, setBefore] = useState(false);
  const [busy, setBusy] = useState(false);
  const saved = plan?.file.grade;
  const grade = own ?? saved;
  const graded = useGraded(open && grade ? { url: `/api/batches/${batch.id}/frames/${frame.id}/linear`, grade } : null);
  const put = (values: Partial<Grade>): string | null => {
    const next = gradeSchema.safeParse({ ...grade, ...values });
    if (!next.success) return describeIssues(next.error).join('\n');
    setOwn(next.data);
    return null;
  };
  const apply = (): void => {
    const problem = own && plan?.edit((f) => ({ ...f, grade: own }));
    if (problem) toastProblem(problem);
    else setOwn(null);
  };
  const write = async (shots: string[] | undefined): Promise<void> => {
    setBusy(true);
    try {
      await plan?.flush();
      const { variant, revisionId } = result;
      const made = await send<BatchReply>('POST', `/sets/${setId}/batches`, {
        revision: revisionId,
        ...(variant && { variant }),
        ...(shots && { shots }),
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
    overlay: (placed) => open && !before && graded.image && <GradedCanvas image={graded.image} placed={placed} alt={LABELS.gradedRender} />,
    button: (
      <Button aria-pressed={open} title={HELP.grade} onClick={toggle}>
        <SlidersHorizontal size={16} aria-hidden /> {LABELS.grade}
      </Button>
    ),
    panel: open && grade && (
      <section aria-label={LABELS.grade} className="flex min-h-0 w-64 shrink-0 flex-col gap-3 overflow-auto border-l border-rule bg-chalk p-3">
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
        <ExposureField exposure={grade.exposure} onExposure={(exposure) => put({ exposure })} />
        <GradeControls grade={grade} put={put} />
        <span className="flex flex-col items-stretch gap-2 border-t border-rule pt-3">
          <Button title={HELP.applyGrade} onClick={apply}>
            {LABELS.applyToSet}
          </Button>
          <Button disabled={own === null} onClick={() => setOwn(null)}>
            {LABELS.resetGrade}
          </Button>
          <Button disabled={own !== null || busy} title={HELP.writeAgain} onClick={() => void write([shotIdOfOutput(frame.shot)])}>
            {LABELS.writeShotAgain}
          </Button>
          <Button disabled={own !== null || busy} title={HELP.writeAgain} onClick={() => void write(undefined)}>
            {LABELS.writeSetAgain}
          </Button>
          <p className="text-xs text-graphite">{own === null ? MESSAGES.gradeOfSet : MESSAGES.gradeTried}</p>
        </span>
      </section>
    ),
  };
}

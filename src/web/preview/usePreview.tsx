/** The live preview of a view or of a planned frame: switch, pause, keep, save, ask a pixel. */
import { type ReactNode, useCallback, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { type Frame, shotIdOfOutput } from '../../core/frame/frame.js';
import { stageOf } from '../../core/plan/set.js';
import type { StageSettings } from '../../core/stage/stage.js';
import type { View } from '../../core/camera/view.js';
import { useWorkspace } from '../app/workspace.js';
import { keepImage } from '../state/keptImages.js';
import { Button } from '../ui/controls.js';
import { previewFrame, plannedPreview } from './previewFrame.js';
import { useBroadcastView } from './broadcastView.js';
import { lazily } from '../ui/lazily.js';
import type { PreviewState } from './PreviewCanvas.js';
import type { PickedPixel } from './messages.js';
import { litBy } from './litBy.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const PreviewCanvas = lazily(() => import('./PreviewCanvas.js').then((m) => m.PreviewCanvas));
const PixelInspector = lazily(() => import('./PixelInspector.js').then((m) => m.PixelInspector));

/** The preview, as parts of the page. */
export interface Preview {
  controls: ReactNode;
  picture: ReactNode;
  caption: ReactNode;
  /** What was asked of a pixel, for the margin. */
  asked: ReactNode;
}

/** What it is of. */
interface Subject {
  frame: Frame;
  name: string;
  /** Id of the view that a window of its own begins with. */
  view: string;
  /** Settings of its stage, for the names of its lights. */
  stage: StageSettings;
}

/** Of a view of the desk's set, kept or not. */
export function usePreview(view: View | null): Preview {
  const { plan, project, revision } = useWorkspace();
  const { file } = plan!;
  const frame = useMemo(() => (view && revision ? previewFrame(file, view, revision, project.name) : null), [view, revision, file, project]);
  return useSubject(frame && { frame, name: view!.name, view: view!.id, stage: file.stage });
}

/** Of a frame of the plan: another one is shown as soon as it is scrubbed to. */
export function usePreviewFrame(planned: Frame, name: string): Preview {
  const { file } = useWorkspace().plan!;
  const frame = useMemo(() => plannedPreview(planned), [planned]);
  const shot = file.shots.find((s) => s.id === shotIdOfOutput(planned.shot));
  return useSubject({ frame, name, view: planned.view, stage: stageOf(file, shot?.stage) }, true);
}

/** In brief there is no keeping and comparing. */
function useSubject(subject: Subject | null, brief = false): Preview {
  const { project, revision, setId, plan } = useWorkspace();
  const frame = subject?.frame;
  const [query] = useSearchParams();
  // An address may ask for it.
  const [on, setOn] = useState(query.has('preview') && !brief);
  const [paused, setPaused] = useState(false);
  const [state, setState] = useState<PreviewState | null>(null);
  const [picked, setPicked] = useState<PickedPixel | null>(null);
  const [kept, setKept] = useState<string | null>(null);
  const [comparing, setComparing] = useState(false);
  const canvas = useRef<HTMLCanvasElement | null>(null);
  const onCanvas = useCallback((c: HTMLCanvasElement | null) => (canvas.current = c), []);
  useBroadcastView(setId, subject && revision ? { frame: subject.frame, hash: revision.hash, title: subject.name } : null);
  const pop = (): void => {
    const query = new URLSearchParams({ view: subject?.view ?? '', revision: String(revision?.id ?? '') });
    window.open(`/p/${project.id}/s/${setId}/live?${query.toString()}`, `live of ${setId}`, 'popup,width=1000,height=640');
  };
  const save = (): void => {
    const link = document.createElement('a');
    link.download = `${subject?.name ?? 'view'} quick.png`;
    link.href = canvas.current!.toDataURL('image/png');
    link.click();
  };
  const keep = (): void => {
    const url = canvas.current?.toDataURL('image/png') ?? null;
    setKept(url);
    canvas.current?.toBlob((bytes) => bytes && keepImage({ name: subject?.name ?? 'view', bytes }));
  };
  const keeping = (
    <>
      <Button onClick={() => (kept ? setKept(null) : keep())} title={HELP.keepsThisPreviewTo}>
        {kept ? LABELS.discardKeptPreview : LABELS.keepPreview}
      </Button>
      {kept && (
        <Button
          onPointerDown={() => setComparing(true)}
          onPointerUp={() => setComparing(false)}
          onPointerLeave={() => setComparing(false)}
          title={HELP.holdDownToShow}
        >
          {LABELS.compare}
        </Button>
      )}
    </>
  );
  const controls = (
    <>
      <Button onClick={() => setOn(!on)} aria-pressed={on} title={HELP.rendersTheViewWith}>
        {on ? LABELS.viewport : LABELS.livePreview}
      </Button>
      {on && (
        <>
          <Button onClick={() => setPaused(!paused)}>{paused ? LABELS.resume : LABELS.pause}</Button>
          {!brief && keeping}
          <Button onClick={save} title={HELP.savesThePreviewAs}>
            {LABELS.save}
          </Button>
        </>
      )}
      <Button onClick={pop} title={HELP.opensTheLivePreview}>
        {LABELS.openInWindow}
      </Button>
    </>
  );
  if (!on || !frame || !revision) return { controls, picture: null, caption: null, asked: null };
  return {
    controls,
    picture: (
      <>
        <PreviewCanvas frame={frame} hash={revision.hash} paused={paused} onState={setState} onPicked={setPicked} onCanvas={onCanvas} />
        {comparing && kept && <img src={kept} alt={LABELS.keptPreview} className="absolute inset-0 h-full w-full" />}
      </>
    ),
    caption: (
      <p className="num mark mark-tr pointer-events-none text-sm" data-testid="live-state">
        {state?.fault ??
          (state ? MESSAGES.progress(state.samples, state.seconds.toFixed(1), paused && !state.whole ? LABELS.paused : '') : MESSAGES.rendering)}
      </p>
    ),
    asked: picked ? (
      <PixelInspector
        picked={picked.content}
        at={picked.at}
        base={`/p/${project.id}/s/${setId}`}
        view={{ id: subject!.view, name: plan!.file.views.find((v) => v.id === subject!.view)?.name ?? subject!.name }}
        lights={picked.lights && litBy(picked.lights, frame.stage, subject!.stage)}
      />
    ) : (
      <p className="border-t border-rule pt-3 text-sm text-graphite">{MESSAGES.clickThePreviewTo}</p>
    ),
  };
}

/** The live preview in a window of its own: fills it, follows the main window, and answers what stands in a pixel. */
import { type ReactNode, useCallback, useEffect, useRef, useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import type { SetReply } from '../../contract/contract.js';
import { subjectBounds } from '../../core/planning/planFrames.js';
import { defaultView } from '../../core/camera/defaultView.js';
import { get } from '../state/api.js';
import { useProject } from '../state/queries.js';
import { Button, EmptyState } from '../ui/controls.js';
import { frameRect } from '../viewport/frameRect.js';
import { PreviewCanvas, type PreviewState } from './PreviewCanvas.js';
import { previewFrame } from './previewFrame.js';
import { type BroadcastView, useBroadcast } from './broadcastView.js';
import type { PickedPixel } from './messages.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** The preview in a window of its own. */
export default function PreviewWindow(): ReactNode {
  const { project: projectId, set } = useParams();
  const [query] = useSearchParams();
  const setId = Number(set);
  const { data: project, error } = useProject(Number(projectId));
  const [shown, setShown] = useState<BroadcastView | null>(null);
  const [state, setState] = useState<PreviewState | null>(null);
  const [picked, setPicked] = useState<PickedPixel | null>(null);
  const [paused, setPaused] = useState(false);
  const mount = useRef<HTMLDivElement>(null);
  const [area, setArea] = useState({ width: 0, height: 0 });
  const onCanvas = useCallback(() => {}, []);
  useBroadcast(setId, (next) => {
    setShown(next);
    setPicked(null);
  });
  // Until the main window says something, and where there is none: the view as it was saved.
  useEffect(() => {
    if (!project) return;
    void get<SetReply>(`/sets/${setId}`).then(({ file }) => {
      const revision = project.revisions.find((r) => r.id === Number(query.get('revision'))) ?? project.revisions.at(-1);
      if (!revision) return;
      const { size, pixelAspect } = file.sheet;
      const view =
        file.views.find((v) => v.id === query.get('view')) ?? file.views[0] ?? defaultView(subjectBounds(file, revision.bounds), size, pixelAspect);
      const frame = previewFrame(file, view, revision, project.name);
      if (frame) setShown((now) => now ?? { frame, hash: revision.hash, title: view.name });
    });
  }, [project, setId, query]);
  useEffect(() => {
    document.title = LABELS.coldEasel(shown?.title ?? LABELS.livePreview);
  }, [shown]);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setArea({ width: entry!.contentRect.width, height: entry!.contentRect.height }));
    observer.observe(mount.current!);
    return () => observer.disconnect();
  }, []);
  const asked = picked && [
    picked.content.part ?? 'nothing',
    picked.content.material,
    picked.content.distance !== null && `${picked.content.distance.toFixed(3)} m`,
    picked.content.colour.map((c) => c.toFixed(3)).join(' '),
  ];
  return (
    <div className="grid h-full grid-rows-[minmax(0,1fr)_40px]">
      <div ref={mount} className="relative min-h-0 overflow-hidden bg-mount">
        {error && <EmptyState title={HELP.thisProjectCannotBe}>{error.message}</EmptyState>}
        {project?.revisions.length === 0 && <EmptyState title={HELP.thereIsNoModel}>{MESSAGES.importOneInStep}</EmptyState>}
        {shown && area.width > 0 && (
          <div className="absolute" style={frameRect(area, shown.frame.size, 1, 0)}>
            <PreviewCanvas frame={shown.frame} hash={shown.hash} paused={paused} onState={setState} onPicked={setPicked} onCanvas={onCanvas} />
          </div>
        )}
      </div>
      <footer className="flex items-center gap-4 border-t border-rule bg-chalk px-4">
        <span className="font-semibold">{shown?.title}</span>
        <span className="num text-sm text-graphite" data-testid="live-state">
          {state?.fault ?? (state ? MESSAGES.samplesS(state.samples, state.seconds.toFixed(1)) : MESSAGES.rendering)}
        </span>
        <span className="num min-w-0 truncate text-sm" data-testid="picked">
          {asked?.filter(Boolean).join(' · ')}
        </span>
        <Button className="ml-auto" onClick={() => setPaused(!paused)}>
          {paused ? LABELS.resume : LABELS.pause}
        </Button>
      </footer>
    </div>
  );
}

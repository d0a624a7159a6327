/** One render, or a moving shot, with its notes beneath or beside it. */
import { ChevronLeft, ChevronRight, Pause, Play } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import type { NoteReply } from '../../contract/notes.js';
import type { PageShot } from '../../contract/reviewPages.js';
import type { NoteShape } from '../../core/review/notes.js';
import { NoteDrawing } from '../features/review/NoteDrawing.js';
import { type NoteKind, NoteMarks } from '../features/review/NoteMarks.js';
import { PictureMount, renderingOf } from '../features/review/PictureMount.js';
import { type Extent, useZoom } from '../features/review/useZoom.js';
import { isOn, notesOn } from './notesOn.js';
import { PageButton } from './PageButton.js';
import { PageNotes } from './PageNotes.js';
import type { PageSource } from './source.js';
import { LABELS } from './words.js';

interface Props {
  shot: PageShot;
  at: number;
  count: number;
  notes: readonly NoteReply[];
  source: PageSource;
  onChanged: () => Promise<void>;
  onGo: (to: number) => void;
  onBack: () => void;
}

/** Plays frames by the clock; what is not loaded by then is passed over. */
function usePlaying(count: number, rate: number, setIndex: (change: (i: number) => number) => void) {
  const [playing, setPlaying] = useState(false);
  useEffect(() => {
    if (!playing) return;
    const timer = setInterval(() => setIndex((i) => (i + 1) % count), 1000 / rate);
    return () => clearInterval(timer);
  }, [playing, count, rate]);
  return { playing, toggle: () => setPlaying(!playing) };
}

/** Fetches the frames of a moving shot one after another, so that they play. */
function useAhead(shot: PageShot): void {
  useEffect(() => {
    if (!shot.moving) return;
    let gone = false;
    void (async () => {
      for (const { picture } of shot.frames) {
        if (gone) return;
        const image = new Image();
        image.src = picture;
        await image.decode().catch(() => undefined);
      }
    })();
    return () => {
      gone = true;
    };
  }, [shot.key]);
}

function FrameBar({
  shot,
  index,
  onIndex,
}: {
  shot: PageShot;
  index: number;
  onIndex: (change: number | ((i: number) => number)) => void;
}): ReactNode {
  const { playing, toggle } = usePlaying(shot.frames.length, shot.rate, onIndex);
  return (
    <div className="flex items-center gap-3 border-t border-rule bg-chalk px-3 py-1">
      <PageButton aria-label={playing ? LABELS.pause : LABELS.play} onClick={toggle}>
        {playing ? <Pause size={18} aria-hidden /> : <Play size={18} aria-hidden />}
      </PageButton>
      <input
        type="range"
        aria-label={LABELS.frame}
        min={0}
        max={shot.frames.length - 1}
        value={index}
        onChange={(e) => onIndex(Number(e.target.value))}
        className="h-11 min-w-0 flex-1 accent-ink"
      />
      <span className="num text-sm">{String(shot.frames[index]!.number).padStart(4, '0')}</span>
    </div>
  );
}

/** One shot of the page. */
export function ShotView({ shot, at, count, notes, source, onChanged, onGo, onBack }: Props): ReactNode {
  const [index, setIndex] = useState(0);
  const [size, setSize] = useState<Extent | null>(null);
  const [kind, setKind] = useState<NoteKind | null>(null);
  const [drawn, setDrawn] = useState<NoteShape | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const zoom = useZoom();
  useAhead(shot);
  const frame = shot.frames[index]!;
  const own = notesOn(shot, notes);
  const here = own.filter((n) => isOn(n, frame, shot.moving)).map((n) => ({ ...n, how: 'own' as const }));
  const choose = (id: number): void => {
    setChosen(id);
    const of = own.find((n) => n.id === id);
    if (of && !isOn(of, frame, shot.moving))
      setIndex(
        Math.max(
          0,
          shot.frames.findIndex((f) => f.id === of.frame),
        ),
      );
  };
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <header className="flex items-center gap-2 border-b border-rule bg-chalk px-2 py-1">
        <PageButton aria-label={LABELS.back} className="border-transparent" onClick={onBack}>
          <ChevronLeft size={20} aria-hidden />
        </PageButton>
        <span className="min-w-0 flex-1">
          <h1 className="truncate font-semibold leading-tight">{shot.name}</h1>
          <p className="truncate text-sm text-graphite">{shot.label}</p>
        </span>
        <span className="num text-sm text-graphite">{LABELS.place(at + 1, count)}</span>
        <PageButton aria-label={LABELS.previous} className="border-transparent" disabled={at === 0} onClick={() => onGo(at - 1)}>
          <ChevronLeft size={20} aria-hidden />
        </PageButton>
        <PageButton aria-label={LABELS.next} className="border-transparent" disabled={at === count - 1} onClick={() => onGo(at + 1)}>
          <ChevronRight size={20} aria-hidden />
        </PageButton>
      </header>
      <div className="flex min-h-0 flex-1 flex-col md:flex-row">
        <div className="flex min-h-[38vh] min-w-0 flex-1 flex-col">
          <div className="flex min-h-0 flex-1">
            <PictureMount picture={size ?? { width: 1920, height: 1080 }} zoom={zoom} label={LABELS.render}>
              {(placed) => (
                <>
                  <img
                    src={frame.picture}
                    alt={shot.name}
                    draggable={false}
                    data-testid="page-render"
                    onLoad={({ currentTarget: { naturalWidth: width, naturalHeight: height } }) => setSize({ width, height })}
                    className="absolute max-w-none"
                    style={{ left: placed.left, top: placed.top, width: placed.width, height: placed.height, imageRendering: renderingOf(placed) }}
                  />
                  <NoteMarks notes={here} chosen={chosen} onChoose={choose} placed={placed} />
                  {kind && !drawn && <NoteDrawing kind={kind} placed={placed} onDrawn={setDrawn} onCancel={() => setKind(null)} />}
                </>
              )}
            </PictureMount>
          </div>
          {shot.moving && shot.frames.length > 1 && <FrameBar shot={shot} index={index} onIndex={setIndex} />}
        </div>
        <PageNotes
          shot={shot}
          frame={frame}
          notes={own}
          here={here}
          source={source}
          chosen={chosen}
          onChoose={choose}
          kind={kind}
          onKind={setKind}
          drawn={drawn}
          onDrawn={setDrawn}
          onChanged={onChanged}
        />
      </div>
    </main>
  );
}

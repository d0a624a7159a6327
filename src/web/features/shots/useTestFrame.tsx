/** A test frame of the shot that is looked at: rendered at once, shown in the place of the viewport, kept and compared. */
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Popover } from 'radix-ui';
import type { Frame } from '../../../core/frame/frame.js';
import { slugify } from '../../../core/plan/fileNames.js';
import { useWorkspace } from '../../app/workspace.js';
import { renderTestFrame, type TestFrameAnswer, useTestFrameShare } from '../../state/testFrame.js';
import { toast } from '../../state/toast.js';
import { Button, PLAIN_BUTTON } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './testFrameWords.js';

/** Shares of width and height that are offered. */
const SCALES = [1, 0.5, 0.25];

/** What was rendered, and of what. */
interface Rendered extends TestFrameAnswer {
  frame: Frame;
  size: string;
}

interface TestFrame {
  controls: ReactNode;
  /** Null where none is shown. */
  picture: ReactNode;
  caption: ReactNode;
}

const sizeText = ({ size }: Frame, scale: number): string => `${Math.round(size.width * scale)} × ${Math.round(size.height * scale)}`;

/** Rendering goes on while another frame is looked at; the page has one at a time. */
function useRendering(): {
  share: number | null;
  render: (frame: Frame, scale: number) => void;
  cancel: () => void;
  done: Rendered | null;
  close: () => void;
} {
  const { setId, revision, plan } = useWorkspace();
  const [token, setToken] = useState('');
  const [done, setDone] = useState<Rendered | null>(null);
  const stop = useRef<AbortController | null>(null);
  const share = useTestFrameShare(token);
  useEffect(() => () => stop.current?.abort(), []);
  const render = (frame: Frame, scale: number): void => {
    stop.current?.abort();
    const control = (stop.current = new AbortController());
    // Over plain HTTP browsers make no UUIDs; this tells the pages of one server apart all the same.
    const next = `${Date.now().toString(36)}-${Math.random().toString(36).slice(2)}`;
    setToken(next);
    const ask = async (): Promise<void> => {
      // What is being typed is part of it.
      await plan!.flush();
      const answer = await renderTestFrame(
        { set: setId, revision: revision!.id, run: frame.shot, number: frame.number, scale },
        next,
        control.signal,
      );
      if (!control.signal.aborted) setDone({ ...answer, frame, size: sizeText(frame, scale) });
    };
    ask()
      .catch((e: Error) => {
        if (!control.signal.aborted) toast.error(e.message);
      })
      .finally(() => setToken((t) => (t === next ? '' : t)));
  };
  return {
    share: token === '' ? null : (share ?? 0),
    render,
    cancel: () => {
      stop.current?.abort();
      setToken('');
    },
    done,
    close: () => setDone(null),
  };
}

/** Gives pictures back that are neither shown nor kept any more: they stay in memory until then. */
function useReleased(inUse: readonly (string | undefined)[]): void {
  const held = useRef(new Set<string>());
  useEffect(() => {
    for (const url of held.current)
      if (!inUse.includes(url)) {
        URL.revokeObjectURL(url);
        held.current.delete(url);
      }
    for (const url of inUse) if (url) held.current.add(url);
  }, [inUse]);
  useEffect(
    () => () => {
      for (const url of held.current) URL.revokeObjectURL(url);
    },
    [],
  );
}

/** @param name of the shot, for the file that it is saved as. */
export function useTestFrame(frame: Frame, name: string): TestFrame {
  const { share, render, cancel, done, close } = useRendering();
  const [open, setOpen] = useState(false);
  const [kept, setKept] = useState<Rendered | null>(null);
  const [comparing, setComparing] = useState(false);
  useReleased([done?.url, kept?.url]);
  const begin = (scale: number): void => {
    setOpen(false);
    render(frame, scale);
  };
  const start =
    share === null ? (
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger className={PLAIN_BUTTON} title={HELP.testFrame}>
          {LABELS.testFrame}
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="start"
            side="top"
            sideOffset={4}
            aria-label={LABELS.testFrame}
            className="z-40 flex flex-col gap-1 border border-graphite bg-chalk p-2"
          >
            {SCALES.map((scale) => (
              <button
                key={scale}
                type="button"
                className="flex justify-between gap-6 px-2 py-1 text-left hover:bg-paper"
                onClick={() => begin(scale)}
              >
                <span>{LABELS.scale(scale)}</span>
                <span className="num text-graphite">{sizeText(frame, scale)}</span>
              </button>
            ))}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    ) : (
      <Button onClick={cancel} aria-live="polite">
        {MESSAGES.cancelAt(Math.floor(share * 100))}
      </Button>
    );
  const isKept = kept !== null && kept.url === done?.url;
  const after = done && (
    <>
      <Button aria-pressed={isKept} onClick={() => setKept(isKept ? null : done)} title={HELP.keep}>
        {isKept ? LABELS.discardKept : LABELS.keep}
      </Button>
      {kept && !isKept && (
        <Button
          onPointerDown={() => setComparing(true)}
          onPointerUp={() => setComparing(false)}
          onPointerLeave={() => setComparing(false)}
          onKeyDown={(e) => e.key === ' ' && setComparing(true)}
          onKeyUp={() => setComparing(false)}
          title={HELP.compare}
        >
          {LABELS.compare}
        </Button>
      )}
      <a className={PLAIN_BUTTON} href={done.url} download={`${slugify(name)} ${String(done.frame.number).padStart(4, '0')} test.png`}>
        {LABELS.save}
      </a>
      <Button onClick={close}>{LABELS.close}</Button>
    </>
  );
  const shown = comparing && kept ? kept : done;
  return {
    controls: (
      <>
        {start}
        {after}
      </>
    ),
    picture: shown && (
      <img src={shown.url} alt={LABELS.testFrameOf(shown.frame.number)} className="absolute inset-0 h-full w-full" data-testid="test-frame" />
    ),
    caption: shown && (
      <p className="num mark mark-tr pointer-events-none text-sm" data-testid="test-frame-facts">
        {MESSAGES.facts(shown.frame.number, shown.size, shown.samples, shown.seconds.toFixed(1), (comparing && MESSAGES.kept) || '')}
      </p>
    ),
  };
}

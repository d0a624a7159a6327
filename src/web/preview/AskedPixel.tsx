/** A picture of a frame that can be asked: a click marks a pixel, and the server says what stands there and what lights it. */
import { Crosshair } from 'lucide-react';
import { type MouseEvent, type ReactNode, useEffect, useState } from 'react';
import type { PixelReply } from '../../contract/pixel.js';
import { get } from '../state/api.js';
import { Button, NumberField } from '../ui/controls.js';
import { PixelInspector } from './PixelInspector.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Shares of the picture's width and height. */
export interface PixelPlace {
  x: number;
  y: number;
}

/** The pixel that is asked, and the answer. */
export interface AskedPixelState {
  at: PixelPlace | null;
  reply: PixelReply | null;
  problem: string | null;
  ask: (at: PixelPlace | null) => void;
}

/** @param path address of the answer, with or without a query of its own. Another address forgets what was asked. */
export function useAskedPixel(path: string): AskedPixelState {
  const [asked, setAsked] = useState<{ path: string; at: PixelPlace } | null>(null);
  const [got, setGot] = useState<{ key: string; reply: PixelReply | null; problem: string | null } | null>(null);
  const at = asked?.path === path ? asked.at : null;
  const key = at ? `${path}${path.includes('?') ? '&' : '?'}x=${at.x.toFixed(4)}&y=${at.y.toFixed(4)}` : '';
  useEffect(() => {
    if (key === '') return undefined;
    const stop = new AbortController();
    get<PixelReply>(key, stop.signal).then(
      (reply) => setGot({ key, reply, problem: null }),
      (e: Error) => {
        if (!stop.signal.aborted) setGot({ key, reply: null, problem: e.message });
      },
    );
    return () => stop.abort();
  }, [key]);
  const own = got?.key === key ? got : null;
  return { at, reply: own?.reply ?? null, problem: own?.problem ?? null, ask: (place) => setAsked(place && { path, at: place }) };
}

/** Where in the element was clicked. */
export function placeOf(e: MouseEvent): PixelPlace {
  const { left, top, width, height } = e.currentTarget.getBoundingClientRect();
  return { x: Math.min(1, Math.max(0, (e.clientX - left) / width)), y: Math.min(1, Math.max(0, (e.clientY - top) / height)) };
}

/** The mark on the pixel, in two tones so that it is seen on any picture. */
export function PixelMark({ at }: { at: PixelPlace | null }): ReactNode {
  if (!at) return null;
  return (
    <span
      className="pointer-events-none absolute -ml-2 -mt-2 h-4 w-4 rounded-full border-2 border-[#15202a] outline outline-2 outline-white"
      style={{ left: `${100 * at.x}%`, top: `${100 * at.y}%` }}
      data-testid="pixel-mark"
      aria-hidden
    />
  );
}

const PERCENT = 100;
const MIDDLE: PixelPlace = { x: 0.5, y: 0.5 };

/** Asks the middle of the picture, for whoever has no pointer: from there it is moved by the fields of the answer. */
/** @param brief shows a sign instead of words. */
export function AskPixelButton({ state, brief = false }: { state: AskedPixelState; brief?: boolean }): ReactNode {
  return (
    <Button title={HELP.askPixelByKey} aria-label={LABELS.askPixel} onClick={() => state.ask(MIDDLE)}>
      {brief ? <Crosshair size={16} aria-hidden /> : LABELS.askPixel}
    </Button>
  );
}

/** Where the pixel is, in percent of the picture. */
function PlaceFields({ at, ask }: { at: PixelPlace; ask: AskedPixelState['ask'] }): ReactNode {
  const put = (place: Partial<PixelPlace>): string | null => {
    const next = { ...at, ...place };
    if (!(next.x >= 0 && next.x <= 1 && next.y >= 0 && next.y <= 1)) return MESSAGES.pixelRange;
    ask(next);
    return null;
  };
  return (
    <div className="mb-2 grid grid-cols-2 gap-3">
      <NumberField label={LABELS.across} help={HELP.across} value={PERCENT * at.x} decimals={1} onValue={(v) => put({ x: v / PERCENT })} />
      <NumberField label={LABELS.down} help={HELP.down} value={PERCENT * at.y} decimals={1} onValue={(v) => put({ y: v / PERCENT })} />
    </div>
  );
}

/** What was answered, or what is to be done. @param base address of the set's steps. */
export function PixelAnswer({ state, base }: { state: AskedPixelState; base: string }): ReactNode {
  const { at, reply, problem, ask } = state;
  if (!at)
    return (
      <div className="flex flex-col items-start gap-2">
        <p className="text-sm text-graphite">{HELP.askPixel}</p>
        <AskPixelButton state={state} />
      </div>
    );
  return (
    <section aria-label={LABELS.pixel}>
      <p className="flex justify-between text-sm">
        <span className="font-medium">{LABELS.pixel}</span>
        <button type="button" className="text-cobalt" onClick={() => ask(null)}>
          {LABELS.close}
        </button>
      </p>
      <PlaceFields at={at} ask={ask} />
      {problem && (
        <p role="alert" className="text-sm text-ochre">
          {problem}
        </p>
      )}
      {!reply && !problem && <p className="text-sm text-graphite">{MESSAGES.askingPixel}</p>}
      {reply && <PixelInspector picked={reply} base={base} view={reply.view} lights={reply.lights} />}
    </section>
  );
}

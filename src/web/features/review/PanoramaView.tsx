/** A panorama looked around in: dragged to turn, zoomed by the wheel. */
import { type KeyboardEvent, type PointerEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import { dragGaze, FIELD_RANGE, FIRST_GAZE, type Gaze, lookAround, type RgbaPicture } from '../../../core/review/panorama.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Most pixels of the view: more could not follow the hand. */
const MOST_PIXELS = 900 * 560;
const WHEEL_STEP = 1.0012;
const KEY_STEP = 40;

/** The pixels of an image by its address; null until they are there. */
function usePixels(url: string): RgbaPicture | null {
  const [picture, setPicture] = useState<RgbaPicture | null>(null);
  useEffect(() => {
    let gone = false;
    void (async () => {
      const image = await createImageBitmap(await (await fetch(url)).blob());
      const canvas = new OffscreenCanvas(image.width, image.height);
      const context = canvas.getContext('2d', { willReadFrequently: true })!;
      context.drawImage(image, 0, 0);
      if (!gone) setPicture(context.getImageData(0, 0, image.width, image.height));
    })();
    return () => {
      gone = true;
    };
  }, [url]);
  return picture;
}

/** A panorama that is looked around in, by pointer and by keys. */
export function PanoramaView({ url, alt }: { url: string; alt: string }): ReactNode {
  const picture = usePixels(url);
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [gaze, setGaze] = useState<Gaze>(FIRST_GAZE);
  const [room, setRoom] = useState({ width: 640, height: 400 });
  const last = useRef({ x: 0, y: 0 });
  useEffect(() => {
    const element = box.current!;
    const observer = new ResizeObserver(() => setRoom({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    // React listens to wheels passively, and the page must not scroll with it.
    const onWheel = (e: WheelEvent): void => {
      e.preventDefault();
      setGaze((g) => ({ ...g, field: Math.min(FIELD_RANGE.max, Math.max(FIELD_RANGE.min, g.field * WHEEL_STEP ** e.deltaY)) }));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => {
      observer.disconnect();
      element.removeEventListener('wheel', onWheel);
    };
  }, []);
  const factor = Math.min(1, Math.sqrt(MOST_PIXELS / Math.max(1, room.width * room.height)));
  const [width, height] = [Math.max(1, Math.round(room.width * factor)), Math.max(1, Math.round(room.height * factor))];
  useEffect(() => {
    if (!picture) return;
    const out = new ImageData(width, height);
    lookAround(picture, gaze, out);
    canvas.current!.getContext('2d')!.putImageData(out, 0, 0);
  }, [picture, gaze, width, height]);
  const turn = (dx: number, dy: number): void => setGaze((g) => dragGaze(g, dx, dy, room.width));
  const onMove = (e: PointerEvent<HTMLDivElement>): void => {
    if (e.buttons !== 1) return;
    turn(e.clientX - last.current.x, e.clientY - last.current.y);
    last.current = { x: e.clientX, y: e.clientY };
  };
  const onKey = (e: KeyboardEvent): void => {
    const step = { ArrowLeft: [KEY_STEP, 0], ArrowRight: [-KEY_STEP, 0], ArrowUp: [0, KEY_STEP], ArrowDown: [0, -KEY_STEP] }[e.key];
    if (!step) return;
    e.preventDefault();
    e.stopPropagation();
    turn(step[0]!, step[1]!);
  };
  return (
    <div
      ref={box}
      tabIndex={0}
      role="application"
      aria-label={LABELS.lookAround}
      title={HELP.panorama}
      className="relative min-h-0 min-w-0 flex-1 cursor-grab touch-none overflow-hidden bg-mount active:cursor-grabbing"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        last.current = { x: e.clientX, y: e.clientY };
      }}
      onPointerMove={onMove}
      onKeyDown={onKey}
      data-testid="panorama"
    >
      <canvas ref={canvas} width={width} height={height} role="img" aria-label={alt} className="h-full w-full" />
      <span className="plate num absolute bottom-2 left-2 px-1.5 text-sm" data-testid="gaze">
        {MESSAGES.gaze(Math.round(gaze.yaw), Math.round(gaze.pitch), Math.round(gaze.field))}
      </span>
    </div>
  );
}

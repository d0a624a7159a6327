/** A mount on which pictures of one place stand one over another: zoomed by the wheel about the pointer, panned by dragging. */
import { type MouseEvent, type PointerEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import { HELP } from './words.js';
import type { Extent, Placed, ZoomState } from './useZoom.js';

/** CSS pixels of movement from which a press is a drag, and no click. */
const DRAG = 4;
const WHEEL_STEP = 1.0015;
/** Device pixels a picture's pixel from which pixels are shown as squares. */
const SQUARES = 2;

/** How the browser is to draw a picture at that scale. */
export function renderingOf({ scale }: Placed): 'pixelated' | 'auto' {
  return scale * (window.devicePixelRatio || 1) >= SQUARES ? 'pixelated' : 'auto';
}

interface Finger {
  x: number;
  y: number;
}

/** What a move of one of two fingers does: how far they are apart now, by what was; and where their middle went. */
export function pinch(fingers: Map<number, Finger>, id: number, to: Finger): { factor: number; middle: Finger; dx: number; dy: number } {
  const other = [...fingers].find(([k]) => k !== id)![1];
  const from = fingers.get(id)!;
  fingers.set(id, to);
  const apart = (a: Finger): number => Math.max(1, Math.hypot(a.x - other.x, a.y - other.y));
  const middle = { x: (to.x + other.x) / 2, y: (to.y + other.y) / 2 };
  return { factor: apart(to) / apart(from), middle, dx: (to.x - from.x) / 2, dy: (to.y - from.y) / 2 };
}

interface Props {
  /** Size of the picture in pixels; null until it is known. */
  picture: Extent | null;
  zoom: ZoomState;
  label: string;
  /** What stands on it. */
  children: (placed: Placed, hover: { x: number; y: number } | null) => ReactNode;
  /** Whether what stands on it wants to know where the pointer is. */
  hovers?: boolean;
  /** A click at a place of the picture, in shares of it. */
  onPick?: (at: { x: number; y: number }) => void;
  onContextMenu?: (e: MouseEvent) => void;
}

/** Where a render is shown, zoomed and panned. */
export function PictureMount({ picture, zoom, label, children, hovers = false, onPick, onContextMenu }: Props): ReactNode {
  const box = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState<Extent>({ width: 640, height: 400 });
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const [hover, setHover] = useState<{ x: number; y: number } | null>(null);
  const fingers = useRef(new Map<number, Finger>());
  const now = useRef({ picture, room, zoom });
  now.current = { picture, room, zoom };
  useEffect(() => {
    const element = box.current!;
    const observer = new ResizeObserver(() => setRoom({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    // React listens to wheels passively, and the page must not scroll with it.
    const onWheel = (e: WheelEvent): void => {
      if (!now.current.picture) return;
      e.preventDefault();
      const { left, top } = element.getBoundingClientRect();
      now.current.zoom.zoomBy(now.current.picture, now.current.room, WHEEL_STEP ** -e.deltaY, { x: e.clientX - left, y: e.clientY - top });
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => {
      observer.disconnect();
      element.removeEventListener('wheel', onWheel);
    };
  }, []);
  const placed = picture ? zoom.place(picture, room) : null;
  const onDown = (e: PointerEvent): void => {
    if (e.pointerType === 'touch') fingers.current.set(e.pointerId, { x: e.clientX, y: e.clientY });
    // A second finger ends the drag of the first: both pinch.
    if (fingers.current.size > 1) drag.current = null;
    else if (e.button === 0) drag.current = { x: e.clientX, y: e.clientY, moved: false };
  };
  /** The place of the render under the pointer, in shares of it; null beside it. */
  const placeOf = (e: PointerEvent<HTMLDivElement>): { x: number; y: number } | null => {
    if (!placed) return null;
    const { left, top } = e.currentTarget.getBoundingClientRect();
    const at = { x: (e.clientX - left - placed.left) / placed.width, y: (e.clientY - top - placed.top) / placed.height };
    return at.x >= 0 && at.x < 1 && at.y >= 0 && at.y < 1 ? at : null;
  };
  const onMove = (e: PointerEvent<HTMLDivElement>): void => {
    if (hovers) setHover(placeOf(e));
    if (fingers.current.size === 2 && fingers.current.has(e.pointerId) && picture) {
      const { left, top } = e.currentTarget.getBoundingClientRect();
      const { factor, middle, dx, dy } = pinch(fingers.current, e.pointerId, { x: e.clientX, y: e.clientY });
      zoom.zoomBy(picture, room, factor, { x: middle.x - left, y: middle.y - top });
      zoom.panBy(picture, room, dx, dy);
      return;
    }
    const from = drag.current;
    if (!from || !picture || e.buttons !== 1) return;
    if (!from.moved && Math.hypot(e.clientX - from.x, e.clientY - from.y) < DRAG) return;
    if (!from.moved) e.currentTarget.setPointerCapture(e.pointerId);
    zoom.panBy(picture, room, e.clientX - from.x, e.clientY - from.y);
    drag.current = { x: e.clientX, y: e.clientY, moved: true };
  };
  const onUp = (e: PointerEvent<HTMLDivElement>): void => {
    fingers.current.delete(e.pointerId);
    const from = drag.current;
    drag.current = null;
    const at = placeOf(e);
    if (from && !from.moved && at) onPick?.(at);
  };
  return (
    <div
      ref={box}
      role="group"
      aria-label={label}
      title={onPick ? HELP.clickPicture : undefined}
      className={`relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden bg-mount ${onPick ? 'cursor-crosshair' : ''}`}
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onPointerLeave={() => setHover(null)}
      onPointerCancel={(e) => {
        fingers.current.delete(e.pointerId);
        drag.current = null;
      }}
      onDoubleClick={() => (zoom.zoom ? zoom.fit() : zoom.actual())}
      onContextMenu={onContextMenu}
      data-testid="mount"
    >
      {placed && children(placed, hovers ? hover : null)}
    </div>
  );
}

/**
 * The quick viewport: the model by WebGL, posed by a frame's camera. The output frame is laid in the
 * middle of the mount; the projection is widened so that what is inside it is exactly what renders.
 */
import { type CSSProperties, type PointerEvent, type ReactNode, useEffect, useLayoutEffect, useRef, useState } from 'react';
import useSWR, { type SWRResponse } from 'swr';
import type { Vec3 } from '../../core/math/bounds.js';
import type { ResolvedTransform } from '../../core/model/modelTransform.js';
import { type Grade, NEUTRAL_GRADE } from '../../core/image/grade.js';
import type { Turn } from '../../core/frame/frame.js';
import type { SetFile } from '../../core/plan/set.js';
import type { Stage } from '../../core/stage/stage.js';
import { type Camera, projectPoint, type Size } from '../../core/camera/view.js';
import { dolly, orbit, pan } from '../../core/camera/orbit.js';
import { usePreferences } from '../app/preferences.js';
import { FrameEdges, Guides, OtherFrame } from './FrameGuides.js';
import { frameRect } from './frameRect.js';
import { type Loaded, loadModel } from './loaded.js';
import { useThumbnailPriority } from '../ui/thumbnailQueue.js';
import { hasDraggedMaterial, droppedMaterial } from '../ui/dragMaterial.js';
import type { Hit, PartClick } from './picking.js';
import { type CanvasHost, useCanvasHost } from './hosts.js';
import { hasGl } from './softwareGl.js';
import { LABELS, MESSAGES } from './words.js';

/** Without a graphics card the first drawing takes what small frames need; it waits for them for so many milliseconds. */
const RELEASE_FIRST = 1500;

/** What the viewport shows, and what may be done in it. */
export interface ViewportProps {
  /** Content hash of the model that is shown. */
  model: string;
  camera: Camera;
  size: Size;
  pixelAspect: number;
  stage: Stage;
  section?: SetFile['section'];
  materials?: SetFile['materials'];
  grade?: Grade;
  place?: ResolvedTransform;
  /** Shows what is on the desk instead of what is in the picture. */
  working?: boolean;
  /** Paths of parts that are marked. */
  selected?: ReadonlySet<string>;
  /** Nothing else is shown. */
  only?: ReadonlySet<string>;
  /** Of what is marked this group of faces alone, counted from 1. */
  group?: number;
  /** A part was clicked. */
  onPick?: (pick: PartClick) => void;
  /** A material was dropped on what stands there; on the group of faces alone if so asked. */
  onDropFinish?: (material: string, hit: Hit, faces: boolean) => void;
  turn?: Turn;
  /** Unit vector to the sun, which is marked where it stands in the picture. */
  sun?: Vec3 | undefined;
  /** Content hash of another model that is laid over it, see-through. */
  over?: string;
  /** The camera was moved by hand; absent where it cannot be. */
  onMove?: (pose: { eye: Vec3; target: Vec3 }) => void;
  /** Lies over the output frame, in percent of it. */
  overlay?: ReactNode;
  /** Frame of another set, about the same middle. */
  other?: { size: Size; label: string };
  /** The frame's edges are dragged: its size in pixels, and whether it was let go. */
  onFrame?: (size: Size, done: boolean) => void;
  /** Stands in the output frame instead of the quick picture. */
  picture?: ReactNode;
  children?: ReactNode;
}

/** Rings the place of the sun; nothing where it stands outside the picture. */
function SunRing({ sun, camera, size }: { sun: Vec3; camera: Camera; size: Size }): ReactNode {
  if (camera.kind !== 'perspective') return null;
  const at = projectPoint(camera, size, camera.eye.map((c, i) => c + 1e5 * sun[i]!) as Vec3);
  if (!at || at[0] < 0 || at[1] < 0 || at[0] > size.width || at[1] > size.height) return null;
  return (
    <span
      data-testid="sun-ring"
      title={LABELS.theSun}
      className="absolute size-6 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-chalk outline outline-1 outline-ink"
      style={{ left: `${(100 * at[0]) / size.width}%`, top: `${(100 * at[1]) / size.height}%` }}
    />
  );
}

/** The model as one context draws it: an object stands in one scene alone. */
function useModel(host: CanvasHost | null, model: string | undefined): SWRResponse<Loaded, Error> {
  return useSWR<Loaded, Error>(
    host && model && hasGl() ? [`/api/models/${model}/viewport.glb`, host.index] : null,
    ([url]: [string]) => loadModel(url),
    {
      revalidateOnFocus: false,
      revalidateIfStale: false,
      revalidateOnReconnect: false,
    },
  );
}

/** The model as it is looked at and moved by hand. */
export function Viewport({
  model,
  camera,
  size,
  pixelAspect,
  stage,
  sun,
  section,
  materials: assignments,
  grade = NEUTRAL_GRADE,
  place,
  working = false,
  selected,
  group,
  only,
  over,
  turn,
  onPick,
  onDropFinish,
  onMove,
  picture,
  overlay,
  other,
  onFrame,
  children,
}: ViewportProps): ReactNode {
  const mount = useRef<HTMLDivElement>(null);
  const [area, setArea] = useState<Size>({ width: 0, height: 0 });
  const slot = useRef<HTMLDivElement>(null);
  const host = useCanvasHost(slot);
  const { data: loaded, error } = useModel(host, model);
  const { data: laid } = useModel(host, over);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setArea({ width: entry!.contentRect.width, height: entry!.contentRect.height }));
    observer.observe(mount.current!);
    return () => observer.disconnect();
  }, []);
  const { guides } = usePreferences();
  const free = useThumbnailPriority(RELEASE_FIRST);
  const rect = frameRect(area, size, pixelAspect);
  useLayoutEffect(() => {
    if (!loaded || !free || area.width === 0) return host?.show(null);
    host?.show({
      loaded,
      camera,
      rect,
      area,
      stage,
      section,
      materials: assignments,
      grade,
      working,
      selected,
      only,
      group,
      finder,
      ...(place && { place }),
      ...(turn && { turn }),
      ...(over && laid && { over: laid }),
    });
  });
  const drag = useRef<{ x: number; y: number; pan: boolean } | null>(null);
  // A click that ends a drag marks nothing.
  const pressed = useRef<{ x: number; y: number } | null>(null);
  const finder = useRef<((x: number, y: number) => Hit | null) | null>(null);
  const pose = { eye: camera.eye, target: camera.target };
  const onPointerMove = (e: PointerEvent): void => {
    const from = drag.current;
    if (!from || !onMove) return;
    const [dx, dy] = [e.clientX - from.x, e.clientY - from.y];
    drag.current = { ...from, x: e.clientX, y: e.clientY };
    onMove(from.pan ? pan(pose, -dx / rect.height, dy / rect.height) : orbit(pose, -dx * 0.008, dy * 0.008));
  };
  // Marks stand in the frame's corners, wherever these are.
  const corners = {
    '--frame-left': `${rect.left}px`,
    '--frame-top': `${rect.top}px`,
    '--frame-right': `${area.width - rect.left - rect.width}px`,
    '--frame-bottom': `${area.height - rect.top - rect.height}px`,
  } as CSSProperties;
  const masks = [
    { left: 0, top: 0, right: 0, height: rect.top },
    { left: 0, bottom: 0, right: 0, height: area.height - rect.top - rect.height },
    { left: 0, top: rect.top, width: rect.left, height: rect.height },
    { right: 0, top: rect.top, width: area.width - rect.left - rect.width, height: rect.height },
  ];
  return (
    <div
      ref={mount}
      data-testid="viewport"
      style={corners}
      className={`relative h-full w-full overflow-hidden bg-mount ${onMove ? 'cursor-grab touch-none' : ''}`}
      onPointerDown={(e) => {
        pressed.current = { x: e.clientX, y: e.clientY };
        if (!onMove) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { x: e.clientX, y: e.clientY, pan: e.shiftKey || e.button === 2 };
      }}
      onPointerMove={onPointerMove}
      onPointerUp={() => (drag.current = null)}
      onDragOver={(e) => {
        if (onDropFinish && hasDraggedMaterial(e)) e.preventDefault();
      }}
      onDrop={(e) => {
        const material = onDropFinish ? droppedMaterial(e) : null;
        const hit = material && finder.current?.(e.clientX, e.clientY);
        if (material) e.preventDefault();
        if (material && hit) onDropFinish!(material, hit, e.altKey);
      }}
      onClick={(e) => {
        const from = pressed.current;
        if (!onPick || !from || Math.hypot(e.clientX - from.x, e.clientY - from.y) >= 4) return;
        const hit = finder.current?.(e.clientX, e.clientY);
        if (hit) onPick({ ...hit, more: e.ctrlKey || e.metaKey || e.shiftKey, faces: e.altKey });
      }}
      onContextMenu={(e) => e.preventDefault()}
      onWheel={(e) => onMove?.(dolly(pose, Math.exp(e.deltaY * 0.001)))}
    >
      {stage.picture && area.width > 0 && (
        <img src={`/api/textures/${stage.picture}`} alt="" className="pointer-events-none absolute object-cover" style={rect} />
      )}
      <div ref={slot} className="pointer-events-none absolute inset-0" />
      {masks.map((style, i) => (
        <div key={i} className={`pointer-events-none absolute ${guides.outside ? 'bg-mount/40' : 'bg-mount/95'}`} style={style} />
      ))}
      <div data-testid="output-frame" className="pointer-events-none absolute border border-chalk outline outline-1 outline-ink" style={rect}>
        {picture}
        {sun && <SunRing sun={sun} camera={camera} size={size} />}
        <Guides guides={guides} />
        {other && <OtherFrame size={size} other={other.size} pixelAspect={pixelAspect} label={other.label} />}
        {overlay}
        {onFrame && <FrameEdges size={size} onSize={onFrame} />}
      </div>
      {!hasGl() && !picture && <p className="mark absolute inset-x-6 top-1/2 text-center">{MESSAGES.noGl}</p>}
      {hasGl() && !loaded && !error && <p className="mark absolute inset-x-0 top-1/2 text-center">{MESSAGES.loadingTheModel}</p>}
      {error && <p className="mark absolute inset-x-6 top-1/2 text-center">{MESSAGES.theViewportCannotShow(error.message)}</p>}
      {children}
    </div>
  );
}

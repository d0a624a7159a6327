/** The picture on the mount by the engine: comes up in rounds, can be paused, refined in a part, asked and saved. */
import { type PointerEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import type { Frame } from '../../core/frame/frame.js';
import type { FromPreviewHost, PickedPixel, Region, ToPreviewHost } from './messages.js';
import { LABELS } from './words.js';

/** How far the preview is. */
export interface PreviewState {
  samples: number;
  seconds: number;
  whole: boolean;
  fault: string | null;
}

/** The frame that is previewed. */
export interface PreviewCanvasProps {
  frame: Frame;
  hash: string;
  paused: boolean;
  onState: (state: PreviewState) => void;
  onPicked: (picked: PickedPixel) => void;
  /** Gives the canvas, to save or keep what it shows. */
  onCanvas: (canvas: HTMLCanvasElement | null) => void;
}

/** The preview, traced in a worker of the browser. */
export function PreviewCanvas({ frame, hash, paused, onState, onPicked, onCanvas }: PreviewCanvasProps): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  const studio = useRef<Worker | null>(null);
  const serial = useRef(0);
  const [drag, setDrag] = useState<{ from: [number, number]; to: [number, number] } | null>(null);
  // Movements follow each other faster than pictures: the next begins when the last has shown something.
  const underway = useRef(false);
  const due = useRef(false);
  const told = useRef({ onState, onPicked });
  told.current = { onState, onPicked };
  useEffect(() => {
    const worker = new Worker(new URL('./previewHost.worker.ts', import.meta.url), { type: 'module' });
    studio.current = worker;
    underway.current = due.current = false;
    const settled = (): void => {
      underway.current = false;
      if (due.current) next.current();
    };
    worker.onmessage = ({ data }: MessageEvent<FromPreviewHost>) => {
      if (data.type === 'picked') told.current.onPicked(data.pixel);
      else if (data.type === 'fault') {
        told.current.onState({ samples: 0, seconds: 0, whole: true, fault: data.message });
        settled();
      } else if (data.id === serial.current && canvas.current) {
        const { width, height, pixels, samples, seconds, whole } = data;
        canvas.current.width = width;
        canvas.current.height = height;
        canvas.current.getContext('2d')!.putImageData(new ImageData(pixels, width, height), 0, 0);
        told.current.onState({ samples, seconds, whole, fault: null });
        settled();
      }
    };
    onCanvas(canvas.current);
    return () => {
      worker.terminate();
      onCanvas(null);
    };
  }, [onCanvas]);
  const post = (message: ToPreviewHost): void => studio.current?.postMessage(message);
  const identity = frame.identity;
  const show = (what: Frame, region: Region | null): void => {
    underway.current = true;
    due.current = false;
    post({ type: 'show', id: ++serial.current, hash, frame: what, region });
  };
  const next = useRef(() => {});
  next.current = () => show(frame, null);
  useEffect(() => {
    if (paused) {
      post({ type: 'pause' });
      underway.current = due.current = false;
    } else if (underway.current) due.current = true;
    else next.current();
  }, [identity, hash, paused]);
  const { grade } = frame;
  useEffect(() => post({ type: 'grade', grade }), [grade]);
  const pixelOf = (e: PointerEvent): [number, number] => {
    const box = canvas.current!.getBoundingClientRect();
    const { width, height } = frame.size;
    const clamp = (v: number, most: number): number => Math.min(most - 1, Math.max(0, Math.floor(v)));
    return [clamp(((e.clientX - box.left) / box.width) * width, width), clamp(((e.clientY - box.top) / box.height) * height, height)];
  };
  const regionOf = (a: [number, number], b: [number, number]): Region => ({
    x: Math.min(a[0], b[0]),
    y: Math.min(a[1], b[1]),
    width: Math.abs(a[0] - b[0]) + 1,
    height: Math.abs(a[1] - b[1]) + 1,
  });
  const { width, height } = frame.size;
  const marked = drag && regionOf(drag.from, drag.to);
  return (
    <div
      className="pointer-events-auto relative h-full w-full cursor-crosshair"
      onPointerDown={(e) => {
        const at = pixelOf(e);
        const from = [e.clientX, e.clientY] as const;
        if (e.altKey) {
          e.stopPropagation();
          e.currentTarget.setPointerCapture(e.pointerId);
          setDrag({ from: at, to: at });
          return;
        }
        // A plain drag orbits, as in the quick viewport; where the hand did not move, the pixel is asked.
        const ask = (up: globalThis.PointerEvent): void => {
          if (Math.hypot(up.clientX - from[0], up.clientY - from[1]) < 4) post({ type: 'pick', x: at[0], y: at[1] });
        };
        window.addEventListener('pointerup', ask, { once: true });
      }}
      onPointerMove={(e) => {
        if (!drag) return;
        e.stopPropagation();
        setDrag({ ...drag, to: pixelOf(e) });
      }}
      onPointerUp={(e) => {
        if (!drag) return;
        e.stopPropagation();
        const region = regionOf(drag.from, drag.to);
        setDrag(null);
        if (region.width < 6 && region.height < 6) post({ type: 'pick', x: drag.to[0], y: drag.to[1] });
        else show({ ...frame, sampling: { ...frame.sampling, samples: frame.sampling.samples * 4 } }, region);
      }}
    >
      <canvas ref={canvas} data-testid="live-picture" className="h-full w-full" aria-label={LABELS.livePreviewOfThe} />
      {marked && (marked.width >= 6 || marked.height >= 6) && (
        <div
          className="absolute border border-chalk outline outline-1 outline-ink"
          style={{
            left: `${(100 * marked.x) / width}%`,
            top: `${(100 * marked.y) / height}%`,
            width: `${(100 * marked.width) / width}%`,
            height: `${(100 * marked.height) / height}%`,
          }}
        />
      )}
    </div>
  );
}

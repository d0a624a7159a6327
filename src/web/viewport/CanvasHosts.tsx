/** The contexts of all viewports, drawn into the elements that viewports hold. */
import { createRoot, extend, type ReconcilerRoot } from '@react-three/fiber';
import { type ReactNode, useLayoutEffect, useRef, useState, useSyncExternalStore } from 'react';
import { createPortal } from 'react-dom';
import { CustomToneMapping, DirectionalLight, Group, Mesh, MeshStandardMaterial, OrthographicCamera, ShadowMaterial } from 'three';
import { DrawnArea } from './DrawnArea.js';
import { type CanvasHost, useHosts } from './hosts.js';
import { Scene } from './Scene.js';
import { isSoftwareGl } from './softwareGl.js';

// What the scene is written with, and no more: all of the library is twice as much code.
extend({ DirectionalLight, Group, Mesh, MeshStandardMaterial, OrthographicCamera, ShadowMaterial });

/** Pixels by which it grows at once. */
const STEP = 128;
const roundUp = (pixels: number): number => Math.ceil(pixels / STEP) * STEP;

/** One context for as long as the application runs: it is made when first shown, and never given up. */
function HostedCanvas({ host }: { host: CanvasHost }): ReactNode {
  const content = useSyncExternalStore(host.subscribe, host.read);
  const canvas = useRef<HTMLCanvasElement>(null);
  const root = useRef<ReconcilerRoot<HTMLCanvasElement> | null>(null);
  const [ready, setReady] = useState(false);
  // It grows to the largest that was shown, and never shrinks.
  const most = useRef({ width: 0, height: 0 });
  const { area = { width: 0, height: 0 } } = content ?? {};
  const width = (most.current.width = Math.max(most.current.width, roundUp(area.width)));
  const height = (most.current.height = Math.max(most.current.height, roundUp(area.height)));
  useLayoutEffect(() => {
    if (width === 0 || height === 0) return;
    root.current ??= createRoot(canvas.current!);
    void root.current
      .configure({
        size: { width, height, top: 0, left: 0 },
        shadows: 'percentage',
        frameloop: 'demand',
        dpr: [0.5, 1],
        performance: { min: isSoftwareGl() ? 0.5 : 1, debounce: 250 },
        gl: { antialias: window.devicePixelRatio >= 1, preserveDrawingBuffer: true, toneMapping: CustomToneMapping },
      })
      .then(() => setReady(true));
  }, [width, height]);
  useLayoutEffect(() => {
    if (!ready || !content) return;
    root.current!.render(
      <>
        <DrawnArea area={content.area} camera={content.camera} />
        <Scene {...content} />
      </>,
    );
  }, [ready, content]);
  return <canvas ref={canvas} className="block" />;
}

/** The contexts of all viewports. */
export default function CanvasHosts(): ReactNode {
  return useHosts().map((host) => createPortal(<HostedCanvas host={host} />, host.element, host.index));
}

/** Where a picture stands on its mount: fitted, or at a scale about a place of it. Several pictures can share one. */
import { useCallback, useMemo, useState } from 'react';

/** Pixels across and down. */
export interface Extent {
  width: number;
  height: number;
}

/** CSS pixels a picture's pixel, and the share of the picture that stands in the middle of the mount. */
export interface Zoom {
  scale: number;
  x: number;
  y: number;
}

/** Of a picture on the mount, in CSS pixels. */
export interface Placed extends Extent {
  left: number;
  top: number;
  scale: number;
}

const MAX_DEVICE_SCALE = 32;
/** Space that a fitted picture leaves at each edge, in CSS pixels. */
const EDGE = 16;
/** Where the picture is at most, so that it is never lost: this share of it stays on the mount. */
const clamp = (v: number): number => Math.min(1, Math.max(0, v));

const pixelRatio = (): number => globalThis.devicePixelRatio || 1;

/** The scale at which all of it is seen; pixels are not enlarged for that. */
export function fitScale(picture: Extent, room: Extent): number {
  const within = Math.min((room.width - 2 * EDGE) / picture.width, (room.height - 2 * EDGE) / picture.height);
  return Math.max(0.01, Math.min(within, 1 / pixelRatio()));
}

/** Where the picture stands, on whole device pixels. */
export function placePicture(picture: Extent, room: Extent, zoom: Zoom | null): Placed {
  const { scale, x, y } = zoom ?? { scale: fitScale(picture, room), x: 0.5, y: 0.5 };
  const whole = (v: number): number => Math.round(v * pixelRatio()) / pixelRatio();
  return {
    scale,
    width: picture.width * scale,
    height: picture.height * scale,
    left: whole(room.width / 2 - x * picture.width * scale),
    top: whole(room.height / 2 - y * picture.height * scale),
  };
}

/** The zoom after a change by a factor about a place of the mount (CSS pixels from its upper left). */
export function zoomAbout(picture: Extent, room: Extent, zoom: Zoom | null, factor: number, at: { x: number; y: number }): Zoom | null {
  const now = placePicture(picture, room, zoom);
  const least = fitScale(picture, room);
  const scale = Math.min(MAX_DEVICE_SCALE / pixelRatio(), now.scale * factor);
  if (scale <= least * 1.001) return null;
  // The pixel under the pointer stays there.
  const [u, v] = [(at.x - now.left) / now.width, (at.y - now.top) / now.height];
  return {
    scale,
    x: clamp(u + (room.width / 2 - at.x) / (picture.width * scale)),
    y: clamp(v + (room.height / 2 - at.y) / (picture.height * scale)),
  };
}

/** The zoom that all renders on the easel share. */
export interface ZoomState {
  zoom: Zoom | null;
  place: (picture: Extent, room: Extent) => Placed;
  zoomBy: (picture: Extent, room: Extent, factor: number, at: { x: number; y: number }) => void;
  /** By CSS pixels of a picture that is shown at `scale`. */
  panBy: (picture: Extent, room: Extent, dx: number, dy: number) => void;
  fit: () => void;
  /** One pixel of the picture for one of the device, about its middle or the place that was seen. */
  actual: () => void;
  /** Shows that place of the picture (shares) at that scale in device pixels. */
  goTo: (x: number, y: number, deviceScale: number) => void;
}

/** The zoom, at first to fit. */
export function useZoom(): ZoomState {
  const [zoom, setZoom] = useState<Zoom | null>(null);
  const fit = useCallback(() => setZoom(null), []);
  const actual = useCallback(() => setZoom((z) => ({ scale: 1 / pixelRatio(), x: z?.x ?? 0.5, y: z?.y ?? 0.5 })), []);
  return useMemo(
    () => ({
      zoom,
      place: (picture, room) => placePicture(picture, room, zoom),
      zoomBy: (picture, room, factor, at) => setZoom((z) => zoomAbout(picture, room, z, factor, at)),
      panBy: (picture, room, dx, dy) =>
        setZoom((z) => {
          const { scale } = placePicture(picture, room, z);
          return { scale, x: clamp((z?.x ?? 0.5) - dx / (picture.width * scale)), y: clamp((z?.y ?? 0.5) - dy / (picture.height * scale)) };
        }),
      fit,
      actual,
      goTo: (x, y, deviceScale) => setZoom({ scale: deviceScale / pixelRatio(), x, y }),
    }),
    [zoom, fit, actual],
  );
}

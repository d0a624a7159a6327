/** Where the output frame lies on the mount. */
import type { Size } from '../../core/camera/view.js';

/** Where the output frame lies in its area; pixels. */
export interface FrameRect {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** The output frame in the middle of an area, at its aspect, with a margin. */
export function frameRect(area: Size, size: Size, pixelAspect: number, margin = 14): FrameRect {
  const aspect = (size.width * pixelAspect) / size.height;
  const width = Math.max(16, Math.min(area.width - 2 * margin, (area.height - 2 * margin) * aspect));
  const height = width / aspect;
  return { width, height, left: (area.width - width) / 2, top: (area.height - height) / 2 };
}

/** Looking around in a panorama: an equirectangular picture as a camera within it sees it. */

/** Where a panorama is looked at, and how widely. */
export interface Gaze {
  /** Degrees to the right of the picture's middle. */
  yaw: number;
  /** Degrees above the horizon, -90..90. */
  pitch: number;
  /** Degrees from the left to the right edge, 10..120. */
  field: number;
}

/** Where a panorama is looked at first; degrees. */
export const FIRST_GAZE: Gaze = { yaw: 0, pitch: 0, field: 75 };
/** Degrees of the field of view that can be chosen. */
export const FIELD_RANGE = { min: 10, max: 120 };

/** An image of 8 bits per channel. */
export interface RgbaPicture {
  width: number;
  height: number;
  /** Four bytes a pixel, rows from the top. */
  data: Uint8ClampedArray;
}

const RADIANS = Math.PI / 180;

/** Where a direction stands in the picture, in shares of it: x goes round, y from the zenith down. @param right @param up @param ahead of the picture's middle. */
export function placeOfDirection(right: number, up: number, ahead: number): [number, number] {
  const x = 0.5 + Math.atan2(right, ahead) / (2 * Math.PI);
  const y = 0.5 - Math.atan2(up, Math.hypot(right, ahead)) / Math.PI;
  return [x - Math.floor(x), y];
}

/** Draws what a level pinhole camera in the middle sees into `out`, between pixels by their four neighbours. */
export function lookAround(picture: RgbaPicture, { yaw, pitch, field }: Gaze, out: RgbaPicture): void {
  const { width, height, data } = picture;
  const half = Math.tan((field / 2) * RADIANS);
  const [cp, sp] = [Math.cos(pitch * RADIANS), Math.sin(pitch * RADIANS)];
  const turn = yaw / 360;
  for (let py = 0; py < out.height; py++) {
    const v = (half * (out.height - 1 - 2 * py)) / out.width;
    for (let px = 0; px < out.width; px++) {
      const u = (half * (2 * px + 1 - out.width)) / out.width;
      const [sx, sy] = placeOfDirection(u, v * cp + sp, cp - v * sp);
      const x = (sx + turn - Math.floor(sx + turn)) * width - 0.5;
      const y = Math.min(height - 1, Math.max(0, sy * height - 0.5));
      const [fx, fy] = [Math.floor(x), Math.min(height - 2, Math.floor(y))];
      const [dx, dy] = [x - fx, y - fy];
      // The left edge follows the right one.
      const [x0, x1] = [(fx + width) % width, (fx + 1 + width) % width];
      const at = (py * out.width + px) * 4;
      for (let c = 0; c < 4; c++) {
        const top = data[(fy * width + x0) * 4 + c]! * (1 - dx) + data[(fy * width + x1) * 4 + c]! * dx;
        const low = data[((fy + 1) * width + x0) * 4 + c]! * (1 - dx) + data[((fy + 1) * width + x1) * 4 + c]! * dx;
        out.data[at + c] = top * (1 - dy) + low * dy;
      }
    }
  }
}

/** The gaze after a drag by CSS pixels of a view that is so wide: what is held follows the pointer. */
export function dragGaze(gaze: Gaze, dx: number, dy: number, width: number): Gaze {
  const perPixel = gaze.field / Math.max(1, width);
  return { ...gaze, yaw: (((gaze.yaw - dx * perPixel) % 360) + 360) % 360, pitch: Math.min(90, Math.max(-90, gaze.pitch + dy * perPixel)) };
}

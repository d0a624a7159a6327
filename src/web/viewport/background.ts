/** What stands behind everything in the quick viewport, as the finished render has it. */
import { Color, DataTexture, EquirectangularReflectionMapping, LinearFilter, RGBAFormat, SRGBColorSpace, type Texture } from 'three';
import { applyGrade, type Grade } from '../../core/image/grade.js';
import type { Stage } from '../../core/stage/stage.js';
import { formatHex, type Rgb } from '../../core/units/colour.js';
import { gradientAt } from './light.js';

/** Rows from straight up to straight down. */
const ROWS = 256;

/** Display values 0 to 1 of radiance under a grade; of a backdrop that is display-referred, as it is. */
function shownAs(colour: Rgb, { displayReferred }: Pick<Stage, 'displayReferred'>, grade: Grade): Rgb {
  if (displayReferred) {
    const { r, g, b } = new Color().setRGB(...colour).getRGB({ r: 0, g: 0, b: 0 }, SRGBColorSpace);
    return [r, g, b];
  }
  const out = new Float32Array(3);
  applyGrade(Float32Array.from(colour), out, grade);
  return [out[0]!, out[1]!, out[2]!];
}

/** One colour where the backdrop is even, else a gradient by the height of the direction. Null where an image stands behind the canvas. */
export function backgroundOf(stage: Pick<Stage, 'backdrop' | 'displayReferred' | 'picture'>, grade: Grade): Color | Texture | null {
  if (stage.picture) return null;
  const { top, middle, bottom } = stage.backdrop;
  const even = formatHex(top) === formatHex(middle) && formatHex(middle) === formatHex(bottom);
  if (even) return new Color().setRGB(...shownAs(middle, stage, grade), SRGBColorSpace);
  const data = new Uint8Array(ROWS * 4);
  for (let row = 0; row < ROWS; row++) {
    // Rows of a texture begin at the bottom.
    const height = -Math.cos((Math.PI * (row + 0.5)) / ROWS);
    data.set([...shownAs(gradientAt(stage.backdrop, height), stage, grade).map((c) => Math.round(255 * c)), 255], row * 4);
  }
  const texture = new DataTexture(data, 1, ROWS, RGBAFormat);
  texture.mapping = EquirectangularReflectionMapping;
  texture.colorSpace = SRGBColorSpace;
  texture.minFilter = texture.magFilter = LinearFilter;
  texture.needsUpdate = true;
  return texture;
}

/** Grades linear light by the same code as the files are: the newest question is answered, those before it are left. */
import { applyGrade, type Grade } from '../../../core/image/grade.js';
import { halfDecoder } from '../../../core/image/half.js';
import type { GradeAnswer, GradeAsk } from './gradeJob.js';

interface Light {
  width: number;
  height: number;
  /** Straight colour, three a pixel, and alpha where there is one. */
  colour: Float32Array;
  alpha: Float32Array | null;
}

let wanted: GradeAsk | null = null;
let working = false;
/** The light that was fetched last: grades are tried on one render after another. */
let last: { url: string; light: Light } | null = null;
const decode = halfDecoder();

async function load(url: string): Promise<Light> {
  if (last?.url === url) return last.light;
  const response = await fetch(url);
  if (!response.ok) throw new Error(((await response.json()) as { detail: string }).detail);
  const [width, height, channels] = ['x-width', 'x-height', 'x-channels'].map((name) => Number(response.headers.get(name))) as [
    number,
    number,
    number,
  ];
  const values = decode(new Uint16Array(await response.arrayBuffer()));
  const count = width * height;
  const light: Light = { width, height, colour: new Float32Array(count * 3), alpha: channels === 4 ? new Float32Array(count) : null };
  for (let i = 0; i < count; i++) {
    const alpha = light.alpha ? values[i * 4 + 3]! : 1;
    if (light.alpha) light.alpha[i] = alpha;
    for (let c = 0; c < 3; c++) light.colour[i * 3 + c] = alpha > 0 ? values[i * channels + c]! / alpha : 0;
  }
  last = { url, light };
  return light;
}

/** Display bytes as the files have them. */
function graded({ width, height, colour, alpha }: Light, grade: Grade): ImageBitmap {
  const display = new Float32Array(colour.length);
  applyGrade(colour, display, grade, { width, height });
  const image = new ImageData(width, height);
  for (let i = 0; i < width * height; i++) {
    for (let c = 0; c < 3; c++) image.data[i * 4 + c] = Math.round(display[i * 3 + c]! * 255);
    image.data[i * 4 + 3] = alpha ? Math.round(Math.min(1, alpha[i]!) * 255) : 255;
  }
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')!.putImageData(image, 0, 0);
  return canvas.transferToImageBitmap();
}

async function work(): Promise<void> {
  working = true;
  while (wanted) {
    const { url, grade, key } = wanted;
    wanted = null;
    let reply: GradeAnswer;
    try {
      reply = { key, image: graded(await load(url), grade) };
    } catch (e) {
      reply = { key, problem: (e as Error).message };
    }
    postMessage(reply, 'image' in reply ? { transfer: [reply.image] } : {});
  }
  working = false;
}

onmessage = ({ data }: MessageEvent<GradeAsk>) => {
  wanted = data;
  if (!working) void work();
};

/** Grades linear light by the same code as the files are: the newest question is answered, those before it are left. */
import { halfDecoder } from '../../../core/image/half.js';
import type { PassId } from '../../../core/image/passes.js';
import { isBlack, isWhite, scopesOf } from '../../../core/image/scopes.js';
import type { GradeAnswer, GradeAsk } from './gradeJob.js';
import { gradeLight, type Light, readLight } from './gradedLight.js';

/** Marks of what is clipped: magenta where white ends, cyan where black does. */
const WHITE_MARK = [255, 0, 255] as const;
const BLACK_MARK = [0, 255, 255] as const;

let wanted: GradeAsk | null = null;
let working = false;
/** The light that was fetched last: grades are tried on one render after another. */
let last: { url: string; light: Light } | null = null;
const decode = halfDecoder();

async function load(url: string): Promise<Light> {
  if (last?.url === url) return last.light;
  const response = await fetch(url);
  if (!response.ok) throw new Error(((await response.json()) as { detail: string }).detail);
  const [width, height, reduced] = ['x-width', 'x-height', 'x-reduced'].map((name) => Number(response.headers.get(name))) as [number, number, number];
  const passes = response.headers.get('x-passes')!.split(',') as PassId[];
  const values = decode(new Uint16Array(await response.arrayBuffer()));
  const light = readLight({ width, height, reduced }, passes, values);
  last = { url, light };
  return light;
}

function markClipped(bytes: Uint8ClampedArray): void {
  for (let i = 0; i < bytes.length; i += 4) {
    const [r, g, b] = [bytes[i]!, bytes[i + 1]!, bytes[i + 2]!];
    const mark = isWhite(r, g, b) ? WHITE_MARK : isBlack(r, g, b) ? BLACK_MARK : null;
    if (mark && bytes[i + 3]! > 0) bytes.set(mark, i);
  }
}

async function work(): Promise<void> {
  working = true;
  while (wanted) {
    const { url, grade, lines, key, clipping } = wanted;
    wanted = null;
    const answer = (reply: GradeAnswer, transfer: Transferable[] = []): void => postMessage(reply, { transfer });
    try {
      const light = await load(url);
      const bytes = gradeLight(light, grade, lines);
      const plain = clipping ? bytes.slice() : bytes;
      if (clipping) markClipped(bytes);
      const canvas = new OffscreenCanvas(light.width, light.height);
      canvas.getContext('2d')!.putImageData(new ImageData(bytes, light.width, light.height), 0, 0);
      const image = canvas.transferToImageBitmap();
      answer({ key, image }, [image]);
      answer({ key, scopes: scopesOf(plain, light.width) });
    } catch (e) {
      answer({ key, problem: (e as Error).message });
    }
  }
  working = false;
}

onmessage = ({ data }: MessageEvent<GradeAsk>) => {
  wanted = data;
  if (!working) void work();
};

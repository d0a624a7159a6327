/** Grades linear light with the numbers that files have: the newest question is answered, those before it are left. */
import { halfDecoder } from '../../core/image/half.js';
import type { PassId } from '../../core/image/passes.js';
import { isBlack, isWhite, scopesOf } from '../../core/image/scopes.js';
import { LightGrader } from '../../engine/grade/lightGrader.js';
import { loadKernel } from '../preview/loadKernel.js';
import type { GradeAnswer, GradeAsk } from './gradeJob.js';
import { type Light, preparationKey, prepareLight, readLight } from './gradedLight.js';

/** Marks of what is clipped: magenta where white ends, cyan where black does. */
const WHITE_MARK = [255, 0, 255] as const;
const BLACK_MARK = [0, 255, 255] as const;

let wanted: GradeAsk | null = null;
let working = false;
const decode = halfDecoder();

interface Loaded {
  url: string;
  light: Light;
  /** What the grader has of it: see preparationKey. */
  prepared?: { key: string; exposed: boolean };
}

/** The light that was fetched last: grades are tried on one render after another. */
let last: Loaded | null = null;
let grader: LightGrader | null = null;
// On its way while the light is.
loadKernel().catch(() => {});

async function load(url: string): Promise<Loaded> {
  if (last?.url === url) return last;
  const response = await fetch(url);
  if (!response.ok) throw new Error(((await response.json()) as { detail: string }).detail);
  const [width, height, reduced] = ['x-width', 'x-height', 'x-reduced'].map((name) => Number(response.headers.get(name))) as [number, number, number];
  const passes = response.headers.get('x-passes')!.split(',') as PassId[];
  const values = decode(new Uint16Array(await response.arrayBuffer()));
  return (last = { url, light: readLight({ width, height, reduced }, passes, values) });
}

/** Bytes of the graded render, row by row. */
async function graded(loaded: Loaded, { grade, lines }: GradeAsk): Promise<Uint8ClampedArray<ArrayBuffer>> {
  // Where the kernel cannot be fetched, the next question tries again.
  grader ??= new LightGrader(await loadKernel());
  const key = preparationKey(grade, lines);
  if (loaded.prepared?.key !== key) {
    const { colour, exposed } = prepareLight(loaded.light, grade, lines);
    grader.load(colour, loaded.light.planes.alpha ?? null);
    loaded.prepared = { key, exposed };
  }
  return grader.grade(grade, loaded.prepared.exposed);
}

function markClipped(bytes: Uint8ClampedArray): void {
  for (let i = 0; i < bytes.length; i += 4) {
    const [r, g, b] = [bytes[i]!, bytes[i + 1]!, bytes[i + 2]!];
    const mark = isWhite(r, g, b) ? WHITE_MARK : isBlack(r, g, b) ? BLACK_MARK : null;
    if (mark && bytes[i + 3]! > 0) bytes.set(mark, i);
  }
}

/** Lets a newer question come in. */
const nextTurn = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));

async function work(): Promise<void> {
  working = true;
  while (wanted) {
    const ask: GradeAsk = wanted;
    const { url, clipping } = ask;
    wanted = null;
    const answer = (reply: GradeAnswer, transfer: Transferable[] = []): void => postMessage(reply, { transfer });
    try {
      const loaded = await load(url);
      const { width, height } = loaded.light;
      const bytes = await graded(loaded, ask);
      const plain = clipping ? bytes.slice() : bytes;
      if (clipping) markClipped(bytes);
      const canvas = new OffscreenCanvas(width, height);
      canvas.getContext('2d')!.putImageData(new ImageData(bytes, width, height), 0, 0);
      const image = canvas.transferToImageBitmap();
      answer({ url, image }, [image]);
      await nextTurn();
      if (!wanted) answer({ url, scopes: scopesOf(plain, width) });
    } catch (e) {
      answer({ url, problem: (e as Error).message });
    }
  }
  working = false;
}

onmessage = ({ data }: MessageEvent<GradeAsk>) => {
  wanted = data;
  if (!working) void work();
};

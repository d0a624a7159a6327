/** Grades linear light by the same code as the files are, with a worker beside it: the newest question is answered, those before it are left. */
import { halfDecoder } from '../../../core/image/half.js';
import type { PassId } from '../../../core/image/passes.js';
import { isBlack, isWhite, scopesOf } from '../../../core/image/scopes.js';
import type { GradeAnswer, GradeAsk } from './gradeJob.js';
import type { BandAsk } from './gradeBand.worker.js';
import { bandOf, gradeLight, gradesInBands, type Light, readLight } from './gradedLight.js';

/** Marks of what is clipped: magenta where white ends, cyan where black does. */
const WHITE_MARK = [255, 0, 255] as const;
const BLACK_MARK = [0, 255, 255] as const;

let wanted: GradeAsk | null = null;
let working = false;
const decode = halfDecoder();

interface Loaded {
  url: string;
  light: Light;
  /** The rows that are graded here; the others are graded beside. */
  upper: Light;
}

/** The light that was fetched last: grades are tried on one render after another. */
let last: Loaded | null = null;

const beside = new Worker(new URL('./gradeBand.worker.ts', import.meta.url), { type: 'module' });
const tell = (ask: BandAsk): void => beside.postMessage(ask);
const heard = (): Promise<Uint8ClampedArray<ArrayBuffer>> =>
  new Promise((resolve, reject) => {
    beside.onmessage = ({ data }: MessageEvent<Uint8ClampedArray<ArrayBuffer>>) => resolve(data);
    beside.onerror = () => reject(new Error('The grade could not be computed. Reload the page.'));
  });

async function load(url: string): Promise<Loaded> {
  if (last?.url === url) return last;
  const response = await fetch(url);
  if (!response.ok) throw new Error(((await response.json()) as { detail: string }).detail);
  const [width, height, reduced] = ['x-width', 'x-height', 'x-reduced'].map((name) => Number(response.headers.get(name))) as [number, number, number];
  const passes = response.headers.get('x-passes')!.split(',') as PassId[];
  const values = decode(new Uint16Array(await response.arrayBuffer()));
  const light = readLight({ width, height, reduced }, passes, values);
  const rows = Math.ceil(height / 2);
  tell({ light: bandOf(light, rows, height - rows) });
  return (last = { url, light, upper: bandOf(light, 0, rows) });
}

/** Bytes of the graded render, row by row. */
async function graded({ light, upper }: Loaded, { grade, lines }: GradeAsk): Promise<Uint8ClampedArray<ArrayBuffer>> {
  if (!gradesInBands(grade)) return gradeLight(light, grade, lines);
  const lower = heard();
  tell({ grade, lines });
  const bytes = new Uint8ClampedArray(light.width * light.height * 4);
  bytes.set(gradeLight(upper, grade, lines));
  bytes.set(await lower, upper.width * upper.height * 4);
  return bytes;
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

/** Hosts the engine in the browser: fetches kernel and scene, renders in rounds, answers what stands in a pixel. */
import { applyGrade, type Grade, NEUTRAL_GRADE } from '../../core/image/grade.js';
import type { Frame } from '../../core/frame/frame.js';
import type { PixelContent } from '../../core/image/pixelContent.js';
import { type CompiledScene, decodeScene } from '../../engine/scene/compile.js';
import { lightShares } from '../../engine/queries/lightShares.js';
import { pixelContent } from '../../engine/queries/pixelContent.js';
import type { FromWorker, Thread } from '../../engine/scheduler/messages.js';
import { AbortedError } from '../../engine/scheduler/job.js';
import { Pool } from '../../engine/scheduler/pool.js';
import type { LinearRender } from '../../engine/scheduler/job.js';
import type { TextureImage } from '../../engine/scene/attachTextures.js';
import { resolveScene } from '../../engine/scene/resolveScene.js';
import { readEnvironmentMap } from '../../formats/environment/read.js';
import { fetched, loadKernel } from './loadKernel.js';
import type { FromPreviewHost, Region, ToPreviewHost } from './messages.js';
import { MESSAGES } from './words.js';

/** The first look is so much smaller, that it comes at once. */
const FIRST_PASS_SAMPLES = 4;
const MAX_THREADS = 8;
/** Whoever asked a pixel waits for what lights it; the picture goes on after. */
const LIGHTS_PRIORITY = 5;
const LIGHTS_WAIT_MS = 150;

const postToPage = (message: FromPreviewHost, transfer: Transferable[] = []): void => self.postMessage(message, { transfer });

let pool: Promise<Pool> | null = null;
const scenes = new Map<string, Promise<CompiledScene>>();
let running: AbortController | null = null;
/** What was shown last, for picking and for going on. */
let last: {
  key: string;
  scene: CompiledScene;
  frame: Frame;
  sums: Float32Array;
  stride: number;
  samples: number;
  release: (() => void) | null;
} | null = null;
/** A pixel that was asked before the first round was there to answer it. */
let waiting: { x: number; y: number } | null = null;

async function startPool(): Promise<Pool> {
  const module = await loadKernel();
  const thread = (): Thread => {
    const worker = new Worker(new URL('./tracer.worker.ts', import.meta.url), { type: 'module' });
    worker.postMessage({ type: 'module', module });
    return {
      post: (m) => worker.postMessage(m),
      onMessage: (handler) => (worker.onmessage = (e: MessageEvent<FromWorker>) => handler(e.data)),
      onFailure: (handler) => (worker.onerror = (e) => handler(new Error(e.message))),
      close: async () => worker.terminate(),
    };
  };
  const threads = Math.max(1, Math.min(MAX_THREADS, navigator.hardwareConcurrency || 1));
  return new Pool(module, Array.from({ length: threads }, thread), 32);
}

async function loadScene(hash: string): Promise<CompiledScene> {
  const scene = decodeScene(new Uint8Array(await fetched(`/api/models/${hash}/scene`)));
  if (!scene) throw new Error(MESSAGES.theCompiledModelIs);
  return scene;
}

/** What was sent last, to be graded again. */
let sent: { id: number; colour: Float32Array; width: number; height: number; samples: number; seconds: number; whole: boolean } | null = null;
let grade: Grade = NEUTRAL_GRADE;

async function loadTexture(file: string): Promise<TextureImage> {
  const bitmap = await createImageBitmap(new Blob([await fetched(`/api/textures/${file}`)]), {
    premultiplyAlpha: 'none',
    colorSpaceConversion: 'none',
  });
  const { width, height } = bitmap;
  const context = new OffscreenCanvas(width, height).getContext('2d')!;
  context.drawImage(bitmap, 0, 0);
  return { width, height, pixels: new Uint8Array(context.getImageData(0, 0, width, height).data) };
}

function send(id: number, colour: Float32Array, width: number, height: number, samples: number, started: number, whole: boolean): void {
  sent = { id, colour: colour.slice(), width, height, samples, seconds: (performance.now() - started) / 1000, whole };
  sendGraded();
}

function sendGraded(): void {
  if (!sent) return;
  const { id, colour, width, height, samples, seconds, whole } = sent;
  const display = new Float32Array(colour.length);
  applyGrade(colour, display, grade, { width, height });
  const pixels = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    for (let c = 0; c < 3; c++) pixels[i * 4 + c] = Math.round(display[i * 3 + c]! * 255);
    pixels[i * 4 + 3] = 255;
  }
  postToPage({ type: 'picture', id, width, height, pixels, samples, seconds, whole }, [pixels.buffer]);
}

async function show(id: number, hash: string, frame: Frame, region: Region | null): Promise<void> {
  running?.abort();
  grade = frame.grade;
  waiting = null;
  const control = new AbortController();
  running = control;
  const started = performance.now();
  pool ??= startPool();
  const here = await pool;
  const { key, load } = resolveScene(frame, {
    hash,
    scene: () => loadScene(hash),
    module: loadKernel,
    texture: loadTexture,
    picture: async (file) => readEnvironmentMap(file, new Uint8Array(await fetched(`/api/environments/${file}`))),
  });
  if (!scenes.has(key)) {
    scenes.clear();
    scenes.set(key, load());
  }
  const scene = await scenes.get(key)!;
  if (control.signal.aborted) return;
  const { width, height } = frame.size;
  const resume = region && last && last.frame.size.width === width ? { sums: last.sums.slice(), samples: 0 } : undefined;
  last?.release?.();
  last = null;
  if (!resume) {
    const size = { width: Math.max(16, Math.round(width / FIRST_PASS_SAMPLES)), height: Math.max(16, Math.round(height / FIRST_PASS_SAMPLES)) };
    const look = await here.render(
      key,
      () => scene,
      { ...frame, size, passes: ['beauty'], sampling: { ...frame.sampling, samples: 1 } },
      { signal: control.signal },
    );
    send(id, look.colour, size.width, size.height, 1, started, false);
    look.release();
  }
  const picture: LinearRender = await here.render(key, () => scene, frame, {
    signal: control.signal,
    ...(resume && region && { resume, region }),
    onRound: ({ colour, sums, samples }) => {
      last = { key, scene, frame, sums, stride: sums.length / (width * height), samples, release: null };
      answerWaiting();
      send(id, colour, width, height, samples, started, false);
    },
  });
  last = { key, scene, frame, sums: picture.sums, stride: picture.stride, samples: picture.samples, release: picture.release };
  answerWaiting();
  send(id, picture.colour, width, height, picture.samples, started, true);
}

/** The pixel that was asked last; what lights an earlier one is not wanted any more. */
let asking: AbortController | null = null;

function answerWaiting(): void {
  if (!waiting || !last) return;
  const { sums, stride, frame, scene, key } = last;
  const { x, y } = waiting;
  waiting = null;
  const content = pixelContent({ sums, stride, width: frame.size.width }, scene, x, y);
  postToPage({ type: 'picked', pixel: { at: [x, y], content } });
  void answerLights(content, { key, load: () => scene }, frame, x, y);
}

async function answerLights(
  content: PixelContent,
  scene: { key: string; load: () => CompiledScene },
  frame: Frame,
  x: number,
  y: number,
): Promise<void> {
  asking?.abort();
  const { signal } = (asking = new AbortController());
  const isEmpty = content.part === null && content.material === null;
  // Whoever clicks about asks for none of them.
  await new Promise((resolve) => setTimeout(resolve, LIGHTS_WAIT_MS));
  if (signal.aborted) return;
  try {
    const lights = isEmpty ? [] : await lightShares(await pool!, scene, frame, x, y, { priority: LIGHTS_PRIORITY, signal });
    postToPage({ type: 'picked', pixel: { at: [x, y], content, lights } });
  } catch (e) {
    if (!(e instanceof AbortedError)) throw e;
  }
}

self.onmessage = ({ data }: MessageEvent<ToPreviewHost>) => {
  if (data.type === 'pause') running?.abort();
  else if (data.type === 'grade') {
    grade = data.grade;
    sendGraded();
  } else if (data.type === 'pick') {
    waiting = { x: data.x, y: data.y };
    answerWaiting();
  } else {
    show(data.id, data.hash, data.frame, data.region).catch((e: unknown) => {
      if (!(e instanceof AbortedError)) postToPage({ type: 'fault', message: (e as Error).message });
    });
  }
};

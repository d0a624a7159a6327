/** What a worker does, whatever host it runs in: keeps scenes and frames, traces and develops tiles. */
import * as L from '../../../kernel/layout.js';
import { instantiate, type Kernel } from '../kernel.js';
import { TILE_BYTES } from '../upload/tileMemory.js';
import type { DenoiseLayout } from '../upload/denoiseBuffers.js';
import { drawLines } from '../lines/draw.js';
import type { AttachMessage, FrameMessage, FromWorker, TaskMessage, ToWorker } from './messages.js';

interface LoadedSceneInWorker {
  kernel: Kernel;
  memory: WebAssembly.Memory;
  area: AttachMessage['area'];
}

interface FilmMemory extends FrameMessage {
  sums: Float32Array;
  picture: Float32Array;
  /** The kernel over the denoiser's memory, once it is used. */
  filter: Kernel | null;
}

function checkpointOf(message: FrameMessage): FilmMemory {
  return {
    ...message,
    sums: new Float32Array(message.film),
    picture: new Float32Array(message.out),
    filter: null,
  };
}

/** Address of a tile's first pixel, from the picture's, whose first row is `top`. */
function initialState(first: number, room: DenoiseLayout, { x, y }: TaskMessage, top: number): number {
  return first + (y - top) * room.pitch + x * 4;
}

/** Returns the handler of the pool's messages; `now` tells milliseconds. */
export function makeTracer(module: WebAssembly.Module, send: (message: FromWorker) => void, now: () => number): (message: ToWorker) => void {
  const scenes = new Map<number, LoadedSceneInWorker>();
  const films = new Map<number, FilmMemory>();

  /** Copies the tile's sums to `address` in a kernel's memory, or back. */
  const moveTile = (film: FilmMemory, memory: WebAssembly.Memory, address: number, { x, y, width, height }: TaskMessage, back: boolean): void => {
    const n = film.stride;
    const tile = new Float32Array(memory.buffer, address, width * height * n);
    for (let row = 0; row < height; row++) {
      const at = ((y - film.top + row) * film.width + x) * n;
      if (back) film.sums.set(tile.subarray(row * width * n, (row + 1) * width * n), at);
      else tile.set(film.sums.subarray(at, at + width * n), row * width * n);
    }
  };

  const trace = (film: FilmMemory, { kernel, memory, area }: LoadedSceneInWorker, task: TaskMessage): void => {
    const { x, y, width, height, from, to } = task;
    if (from === 0) new Float32Array(memory.buffer, area.tile, width * height * film.stride).fill(0);
    else moveTile(film, memory, area.tile, task, false);
    kernel.renderTile(film.record, x, y, width, height, from, to, area.tile);
    moveTile(film, memory, area.tile, task, true);
  };

  const foresee = (film: FilmMemory, { kernel, memory, area }: LoadedSceneInWorker, task: TaskMessage): void => {
    moveTile(film, memory, area.tile, task, false);
    kernel.estimateNeed(film.record, task.width, task.height, area.tile);
    moveTile(film, memory, area.tile, task, true);
  };

  const denoise = (film: FilmMemory, task: TaskMessage): void => {
    const { width, height } = task;
    const { memory, room, tile } = film.planes!;
    const { pitch, plane } = room;
    const filter = (film.filter ??= instantiate(module, memory));
    const guides = initialState(room.guides, room, task, film.top);
    const set = (level: number): number => initialState(room.sets[level % 2]!, room, task, film.top);
    // Until the first level writes there, the other set's luminance is free.
    const light = set(1) + L.DENOISE_LUMINANCE * plane;
    if (task.type === 'prepare') {
      moveTile(film, memory, tile, task, false);
      filter.denoisePrepare(tile, width, height, film.stride, set(0), light, guides, pitch, plane);
    } else if (task.type === 'smooth') {
      filter.denoiseSmooth(light, set(0), guides, width, height, pitch, plane);
    } else if (task.type === 'level') {
      filter.denoiseLevel(set(task.from), set(task.from + 1), guides, width, height, pitch, plane, task.from);
    } else {
      filter.denoiseFinish(set(task.from), guides, width, height, pitch, plane, tile);
      const result = new Float32Array(memory.buffer, tile, width * height * 3);
      for (let row = 0; row < height; row++)
        film.picture.set(result.subarray(row * width * 3, (row + 1) * width * 3), ((task.y - film.top + row) * film.width + task.x) * 3);
    }
  };

  const lines = (film: FilmMemory, scene: LoadedSceneInWorker): void => {
    const { lines: job, width, height, record } = film;
    if (!job) return;
    const room = { memory: scene.memory, at: scene.area.tile, bytes: TILE_BYTES, frame: record };
    new Float32Array(job.distances).set(drawLines(scene.kernel, room, { ...job, size: { width, height } }));
  };

  const average = (film: FilmMemory, task: TaskMessage): void => {
    for (let row = task.y - film.top; row < task.y - film.top + task.height; row++) {
      for (let i = row * film.width + task.x, end = i + task.width; i < end; i++) {
        const n = film.sums[i * film.stride + L.PIXEL_COUNT]!;
        for (let c = 0; c < 3; c++) film.picture[i * 3 + c] = n > 0 ? film.sums[i * film.stride + c]! / n : 0;
      }
    }
  };

  const takeStep = (film: FilmMemory, scene: LoadedSceneInWorker, task: TaskMessage): void => {
    if (task.type === 'trace') trace(film, scene, task);
    else if (task.type === 'foresee') foresee(film, scene, task);
    else if (task.type === 'average') average(film, task);
    else if (task.type === 'lines') lines(film, scene);
    else denoise(film, task);
  };

  const work = ({ then = [], ...task }: TaskMessage): void => {
    const film = films.get(task.job);
    const scene = film && scenes.get(film.scene);
    if (!film || !scene) return; // dropped while the task was on its way
    const started = now();
    takeStep(film, scene, task);
    const first = now() - started;
    for (const step of then) takeStep(film, scene, { ...task, ...step });
    send({ type: 'done', job: task.job, steps: 1 + then.length, busy: now() - started, traced: task.type === 'trace' ? first : 0 });
  };

  return (message) => {
    switch (message.type) {
      case 'attach': {
        const kernel = instantiate(module, message.memory);
        kernel.setWorkerScratch(message.area.scratch);
        scenes.set(message.scene, { kernel, memory: message.memory, area: message.area });
        return;
      }
      case 'detach':
        scenes.delete(message.scene);
        return;
      case 'frame':
        films.set(message.job, checkpointOf(message));
        return;
      case 'drop':
        films.delete(message.job);
        return;
      default:
        try {
          work(message);
        } catch (e) {
          send({ type: 'fault', job: message.job, message: (e as Error).message });
        }
    }
  };
}

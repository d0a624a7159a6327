/**
 * Renders a picture that is too large for memory, strip by strip, to the same bits as in one piece. Its film is on the disk:
 * first the even samples of all strips and what further ones they need, then the rest of the samples, then what is made of
 * them, each strip with as many rows above and below as the denoiser reaches. What is done stays done: a run that is cut
 * off goes on with the strip that it was at.
 */
import * as L from '../../../kernel/layout.js';
import { type Frame, withFrame } from '../../core/frame/frame.js';
import type { PassId } from '../../core/image/passes.js';
import { maxExtraSamples, NeedCounts } from '../sampling/adaptiveSampling.js';
import { cellErrors } from '../sampling/cellNoise.js';
import { needsLineart, type StripOptions } from '../sampling/renderSteps.js';
import { DEVELOP_MARGIN, type Strip, STRIPS_AT_ONCE, stripsOf } from '../sampling/strips.js';
import { passPlane } from '../output/passes.js';
import { type AssetProvider, resolveScene } from '../scene/resolveScene.js';
import { AbortedError, type LinearRender, type RenderOptions } from '../scheduler/job.js';
import type { Pool } from '../scheduler/pool.js';
import { baseSamples, filmLayout } from '../upload/filmLayout.js';
import { FilmFile } from './filmFile.js';

/** A picture that was made in strips: its passes, without the film. */
export interface StripRender {
  planes: Partial<Record<PassId, Float32Array>>;
  /** Whether any sample met the model. */
  met: boolean;
  /** Relative errors of its cells. */
  errors: number[];
  seconds: number;
}

/** How a render by strips is watched, and where its film lies. */
export interface StripControl extends Pick<RenderOptions, 'priority' | 'onProgress' | 'signal'> {
  /** Where the film lies meanwhile; removed once the picture is made. */
  folder: string;
  /** Pixels of a strip. */
  pixels?: number;
}

/** Work of each part, for the share that is done. */
const PART_SHARES = { even: 0.3, rest: 0.65, develop: 0.05 };

class StripWork {
  private seconds = 0;
  private readonly strips: Strip[];
  private readonly scene: ReturnType<typeof resolveScene>;

  constructor(
    private readonly pool: Pool,
    from: AssetProvider,
    private readonly frame: Frame,
    private readonly control: StripControl,
    private readonly film: FilmFile,
  ) {
    this.strips = stripsOf(frame.size, control.pixels);
    this.scene = resolveScene(frame, from);
  }

  private async render(frame: Frame, strip: Omit<StripOptions, 'room'>, resume?: Float32Array): Promise<LinearRender> {
    const { priority, signal } = this.control;
    const room = this.strips[0]!.height + 2 * DEVELOP_MARGIN;
    const done = await this.pool.render(this.scene.key, this.scene.load, frame, {
      ...(priority !== undefined && { priority }),
      ...(signal && { signal }),
      ...(resume && { resume: { sums: resume, samples: 0 } }),
      strip: { ...strip, room },
    });
    this.seconds += done.seconds;
    return done;
  }

  /** Does something with every strip that is not done, some at a time. @returns once all are over. */
  private async each(part: keyof typeof PART_SHARES, done: readonly number[], act: (strip: Strip, index: number) => Promise<void>): Promise<void> {
    const before = part === 'even' ? 0 : part === 'rest' ? PART_SHARES.even : PART_SHARES.even + PART_SHARES.rest;
    let count = done.length;
    const tell = (): void => this.control.onProgress?.(before + (PART_SHARES[part] * count) / this.strips.length);
    tell();
    const waiting = this.strips.map((strip, index) => ({ strip, index })).filter(({ index }) => !done.includes(index));
    const ends = await Promise.allSettled(
      Array.from({ length: STRIPS_AT_ONCE }, async () => {
        for (let next = waiting.shift(); next; next = waiting.shift()) {
          if (this.control.signal?.aborted) throw new AbortedError();
          try {
            await act(next.strip, next.index);
          } catch (e) {
            waiting.length = 0;
            throw e;
          }
          count++;
          tell();
        }
      }),
    );
    const broken = ends.find((e) => e.status === 'rejected');
    if (broken) throw broken.reason;
  }

  /** All samples of all strips, in the film. */
  async trace(): Promise<void> {
    const { film, frame } = this;
    const even = baseSamples(frame.sampling);
    await this.each('even', [...new Set([...film.progress.even, ...film.progress.whole])], async (strip, index) => {
      const done = await this.render(frame, { part: 'even', ...strip });
      await film.write(strip.top, done.sums);
      done.release();
      await film.note(even > 0 ? { even: [...film.progress.even, index] } : { whole: [...film.progress.whole, index] });
    });
    if (even === 0) return;
    if (film.progress.scale === undefined) await film.note({ scale: await this.needs() });
    await this.each('rest', film.progress.whole, async (strip, index) => {
      const scale = film.progress.scale!;
      const done = await film.with(strip.top, strip.height, (sums) => this.render(frame, { part: 'rest', ...strip, scale }, sums));
      // Cut off while it is written, it is neither: then it is begun anew.
      await film.note({ even: film.progress.even.filter((i) => i !== index) });
      await film.write(strip.top, done.sums);
      done.release();
      await film.note({ whole: [...film.progress.whole, index] });
    });
  }

  /** What all pixels need together. */
  private async needs(): Promise<number> {
    const { film, frame, strips } = this;
    const { samples } = frame.sampling;
    const { width } = frame.size;
    const needs = new NeedCounts();
    for (const { top, height } of strips)
      await film.with(top, height, (sums) => needs.add(sums, filmLayout(frame).stride, width, { x: 0, y: 0, width, height }));
    return needs.scale(maxExtraSamples(baseSamples(frame.sampling), samples));
  }

  /** The passes of all strips. */
  async develop(clay?: Float32Array): Promise<StripRender> {
    const { film, frame } = this;
    const { width, height } = frame.size;
    const { stride } = filmLayout(frame);
    const planes: StripRender['planes'] = clay ? { clay } : {};
    let met = false;
    const errors: number[][] = [];
    const own = frame.passes.filter((id) => id !== 'clay' && id !== 'lines');
    const wanted = [...new Set<PassId>([...own, 'beauty', ...(frame.transparent ? (['alpha'] as const) : [])])];
    await this.each('develop', [], async (strip, index) => {
      const top = Math.max(0, strip.top - DEVELOP_MARGIN);
      const rows = Math.min(height, strip.top + strip.height + DEVELOP_MARGIN) - top;
      const done = await film.with(top, rows, (sums) => this.render(frame, { part: 'develop', top, height: rows }, sums));
      const [first, last] = [(strip.top - top) * width, (strip.top - top + strip.height) * width];
      const sums = done.sums.subarray(first * stride, last * stride);
      const piece = { width, height: strip.height, stride, sums, colour: done.colour.subarray(first * 3, last * 3), transparent: frame.transparent };
      for (const id of wanted) {
        const values = passPlane(piece, id);
        const floats = values.length / (width * strip.height);
        planes[id] ??= new Float32Array(new SharedArrayBuffer(width * height * floats * 4));
        // Bits of labels come through as they are.
        new Uint32Array(planes[id].buffer).set(new Uint32Array(values.buffer, values.byteOffset, values.length), strip.top * width * floats);
      }
      for (let at = L.PIXEL_COVERAGE; !met && at < sums.length; at += stride) met = sums[at]! > 0;
      if (frame.sampling.noise > 0) errors[index] = cellErrors(piece);
      done.release();
    });
    if (needsLineart(frame)) {
      const drawn = await this.render(frame, { part: 'lines', top: 0, height: 0 });
      planes.lines = drawn.lines!;
    }
    return { planes, met, errors: errors.flat(), seconds: this.seconds };
  }
}

/**
 * Renders the frame. Rejects with AbortedError where the signal stops it; what is done by then is kept in the folder, and
 * the next call goes on from there.
 */
export async function renderInStrips(pool: Pool, from: AssetProvider, frame: Frame, control: StripControl): Promise<StripRender> {
  const { width } = frame.size;
  const { stride } = filmLayout(frame);
  const form = `${stride} ${stripsOf(frame.size, control.pixels).length}`;
  let clay: StripRender | undefined;
  if (frame.passes.includes('clay')) {
    const plain = withFrame(frame, { clay: true, passes: ['beauty'], lines: undefined, identity: `${frame.identity} clay` });
    clay = await renderInStrips(pool, from, plain, { ...control, folder: `${control.folder}-clay`, onProgress: undefined });
  }
  const rows = stripsOf(frame.size, control.pixels)[0]!.height;
  const film = await FilmFile.open(control.folder, frame.identity, form, width * stride, rows + 2 * DEVELOP_MARGIN);
  let kept = true;
  try {
    const work = new StripWork(pool, from, frame, control, film);
    await work.trace();
    const done = await work.develop(clay?.planes.beauty);
    kept = false;
    return { ...done, seconds: done.seconds + (clay?.seconds ?? 0) };
  } finally {
    // What is done of a picture that was stopped is gone on with.
    await (kept ? film.close() : film.remove());
  }
}

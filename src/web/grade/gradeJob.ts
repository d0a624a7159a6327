/** A render graded anew from its linear light, beside the page. */
import { useEffect, useRef, useState } from 'react';
import type { Grade } from '../../core/image/grade.js';
import type { Scopes } from '../../core/image/scopes.js';
import type { DrawnLines } from './gradedLight.js';

/** `lines` are drawn over it, and `clipping` marks what is at its end. */
export type GradeAsk = { url: string; grade: Grade; lines: DrawnLines | null; clipping: boolean };
/** The image is told as soon as it is there, what it comes to after that. */
export type GradeAnswer = { url: string } & ({ image: ImageBitmap } | { scopes: Scopes } | { problem: string });

/** The newest graded image: drawn by whoever shows it as soon as it comes, past the page's other work. */
export class GradedImages {
  private image: ImageBitmap | null = null;
  private draw: ((image: ImageBitmap) => void) | null = null;

  put(image: ImageBitmap): void {
    this.image?.close();
    this.image = image;
    this.draw?.(image);
  }

  /** Draws the newest one and all that follow; returns how to end that. */
  drawOn(canvas: HTMLCanvasElement): () => void {
    const draw = (image: ImageBitmap): void => {
      if (canvas.width !== image.width || canvas.height !== image.height) [canvas.width, canvas.height] = [image.width, image.height];
      canvas.getContext('2d')!.drawImage(image, 0, 0);
    };
    this.draw = draw;
    if (this.image) draw(this.image);
    return () => {
      if (this.draw === draw) this.draw = null;
    };
  }
}

/** The graded render as far as it is computed. */
export interface GradedState {
  /** Null until the first image of this light is there. */
  images: GradedImages | null;
  scopes: Scopes | null;
  problem: string | null;
  /** Asks at once, before the page is drawn again with what is asked. */
  post: (ask: GradeAsk) => void;
}

/** What came of the light under an address. */
type Outcome = { url: string } & ({ problem: string } | { shown: true });

/** @param ask address of the light and how to grade it; null where nothing is graded. The last image stays until the next is there. */
export function useGraded(ask: GradeAsk | null): GradedState {
  const worker = useRef<Worker | null>(null);
  const images = useRef(new GradedImages());
  const [outcome, setOutcome] = useState<Outcome | null>(null);
  const [measured, setMeasured] = useState<{ url: string; scopes: Scopes } | null>(null);
  // A table of colours is long; the same one is the same object.
  const asked = useRef<{ key: string; values: string | undefined }>({ key: '', values: undefined });
  const post = (next: GradeAsk): void => {
    const { url, clipping, lines, grade } = next;
    const values = grade.table?.values;
    const key = `${url} ${clipping} ${JSON.stringify(lines)} ${JSON.stringify({ ...grade, table: grade.table && { ...grade.table, values: '' } })}`;
    if (worker.current && asked.current.key === key && asked.current.values === values) return;
    asked.current = { key, values };
    worker.current ??= startWorker();
    worker.current.postMessage(next);
  };
  useEffect(
    () => () => {
      worker.current?.terminate();
      worker.current = null;
    },
    [],
  );
  const startWorker = (): Worker => {
    const started = new Worker(new URL('./grade.worker.ts', import.meta.url), { type: 'module' });
    started.onmessage = ({ data }: MessageEvent<GradeAnswer>) => {
      const { url } = data;
      if ('scopes' in data) setMeasured({ url, scopes: data.scopes });
      else if ('problem' in data) setOutcome({ url, problem: data.problem });
      else {
        images.current.put(data.image);
        setOutcome((now) => (now?.url === url && 'shown' in now ? now : { url, shown: true }));
      }
    };
    return started;
  };
  useEffect(() => {
    if (ask) post(ask);
  });
  const own = outcome?.url === ask?.url ? outcome : null;
  const shown = own !== null && 'shown' in own;
  return {
    images: shown ? images.current : null,
    // Those of the image before stand until the new ones are there.
    scopes: shown && measured?.url === own.url ? measured.scopes : null,
    problem: own && 'problem' in own ? own.problem : null,
    post,
  };
}

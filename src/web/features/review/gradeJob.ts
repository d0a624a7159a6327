/** A render graded anew from its linear light, beside the page. */
import { useEffect, useRef, useState } from 'react';
import type { Grade } from '../../../core/image/grade.js';
import type { Scopes } from '../../../core/image/scopes.js';
import type { DrawnLines } from './gradedLight.js';

/** `lines` are drawn over it, and `clipping` marks what is at its end. */
export type GradeAsk = { url: string; grade: Grade; lines: DrawnLines | null; clipping: boolean; key: string };
/** The image is told as soon as it is there, what it comes to after that. */
export type GradeAnswer = { key: string; image: ImageBitmap } | { key: string; scopes: Scopes } | { key: string; problem: string };

export interface GradedState {
  image: ImageBitmap | null;
  scopes: Scopes | null;
  problem: string | null;
}

/** @param ask address of the light and how to grade it; null where nothing is graded. The last image stays until the next is there. */
export function useGraded(ask: Omit<GradeAsk, 'key'> | null): GradedState {
  const worker = useRef<Worker | null>(null);
  const [answer, setAnswer] = useState<Exclude<GradeAnswer, { scopes: Scopes }> | null>(null);
  const [measured, setMeasured] = useState<{ key: string; scopes: Scopes } | null>(null);
  // A table of colours is long; the same one is the same object.
  const key = ask
    ? `${ask.url} ${ask.clipping} ${JSON.stringify(ask.lines)} ${JSON.stringify({ ...ask.grade, table: ask.grade.table && { ...ask.grade.table, values: '' } })}`
    : '';
  useEffect(
    () => () => {
      worker.current?.terminate();
      worker.current = null;
    },
    [],
  );
  useEffect(() => {
    if (!ask) return;
    if (!worker.current) {
      worker.current = new Worker(new URL('./grade.worker.ts', import.meta.url), { type: 'module' });
      worker.current.onmessage = ({ data }: MessageEvent<GradeAnswer>) => ('scopes' in data ? setMeasured(data) : setAnswer(data));
    }
    worker.current.postMessage({ ...ask, key } satisfies GradeAsk);
  }, [key, ask?.grade.table?.values]);
  const isOf = answer !== null && ask !== null && answer.key.startsWith(`${ask.url} `);
  return {
    image: isOf && 'image' in answer ? answer.image : null,
    // Those of the image before stand until the new ones are there.
    scopes: isOf && 'image' in answer && measured?.key.startsWith(`${ask.url} `) ? measured.scopes : null,
    problem: isOf && 'problem' in answer ? answer.problem : null,
  };
}

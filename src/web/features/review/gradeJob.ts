/** A render graded anew from its linear light, beside the page. */
import { useEffect, useRef, useState } from 'react';
import type { Grade } from '../../../core/image/grade.js';
import type { Scopes } from '../../../core/image/scopes.js';

/** `clipping` marks what is at its end. */
export type GradeAsk = { url: string; grade: Grade; clipping: boolean; key: string };
export type GradeAnswer = { key: string; image: ImageBitmap; scopes: Scopes } | { key: string; problem: string };

export interface GradedState {
  image: ImageBitmap | null;
  scopes: Scopes | null;
  problem: string | null;
}

/** @param ask address of the light and how to grade it; null where nothing is graded. The last image stays until the next is there. */
export function useGraded(ask: Omit<GradeAsk, 'key'> | null): GradedState {
  const worker = useRef<Worker | null>(null);
  const [answer, setAnswer] = useState<GradeAnswer | null>(null);
  // A table of colours is long; the same one is the same object.
  const key = ask
    ? `${ask.url} ${ask.clipping} ${JSON.stringify({ ...ask.grade, table: ask.grade.table && { ...ask.grade.table, values: '' } })}`
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
      worker.current.onmessage = ({ data }: MessageEvent<GradeAnswer>) => setAnswer(data);
    }
    worker.current.postMessage({ ...ask, key } satisfies GradeAsk);
  }, [key, ask?.grade.table?.values]);
  const isOf = answer !== null && ask !== null && answer.key.startsWith(`${ask.url} `);
  return {
    image: isOf && 'image' in answer ? answer.image : null,
    scopes: isOf && 'image' in answer ? answer.scopes : null,
    problem: isOf && 'problem' in answer ? answer.problem : null,
  };
}

/** A render graded anew from its linear light, beside the page. */
import { useEffect, useRef, useState } from 'react';
import type { Grade } from '../../../core/image/grade.js';

export type GradeAsk = { url: string; grade: Grade; key: string };
export type GradeAnswer = { key: string; image: ImageBitmap } | { key: string; problem: string };

export interface GradedState {
  image: ImageBitmap | null;
  problem: string | null;
}

/** @param ask address of the light and how to grade it; null where nothing is graded. The last image stays until the next is there. */
export function useGraded(ask: Omit<GradeAsk, 'key'> | null): GradedState {
  const worker = useRef<Worker | null>(null);
  const [answer, setAnswer] = useState<GradeAnswer | null>(null);
  const key = ask ? `${ask.url} ${JSON.stringify(ask.grade)}` : '';
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
  }, [key]);
  const isOf = answer !== null && ask !== null && answer.key.startsWith(`${ask.url} `);
  return {
    image: isOf && 'image' in answer ? answer.image : null,
    problem: isOf && 'problem' in answer ? answer.problem : null,
  };
}

/** Brings the render that the pointer or the focus rests on, so that a click on it shows it at once. */
import { useEffect, useState } from 'react';
import type { ResultReply } from '../../../contract/results.js';
import { announceLikely } from '../../compare/likely.js';
import { useFrames } from '../../state/queries.js';
import { renderUrl } from './easelItems.js';

/** Milliseconds that the pointer stays where somebody looks, and not only passes. */
const REST_MS = 60;

/** A render with more pixels takes too long, and too much memory, to be fetched for a pointer that is on it. */
const MAX_PIXELS = 10_000_000;

/** What is rested on; told beside React, since the whole wall would be drawn again for it. */
export class Resting extends EventTarget {
  result: ResultReply | null = null;

  rest(result: ResultReply): void {
    this.result = result;
    this.dispatchEvent(new Event('rest'));
  }
}

/** Prepares the comparison with the render that the pointer rests on; shows nothing itself. */
export function LikelyNext({ resting }: { resting: Resting }): null {
  const [result, setResult] = useState<ResultReply | null>(null);
  useEffect(() => {
    let timer: number | undefined;
    const hear = (): void => {
      clearTimeout(timer);
      const { result: next } = resting;
      if (next?.size && next.size.width * next.size.height > MAX_PIXELS) return;
      timer = window.setTimeout(() => setResult(next), REST_MS);
    };
    resting.addEventListener('rest', hear);
    return () => {
      clearTimeout(timer);
      resting.removeEventListener('rest', hear);
    };
  }, [resting]);
  const { data: frames } = useFrames(result?.batch);
  const frame = frames?.find((f) => f.id === result?.cover);
  const url = result && frame && renderUrl(result.batch, frame, 'beauty');
  useEffect(() => {
    if (url) announceLikely(url);
  }, [url]);
  return null;
}

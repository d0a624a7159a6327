/** One frame of the set, rendered by the server at once. */
import useSWR from 'swr';
import { requestBlob } from './api.js';

/** A frame to be tested. */
export interface TestFrameWanted {
  set: number;
  revision: number;
  run: string;
  number: number;
  /** Of its width and height. */
  scale: number;
}

/** A test frame, and what it took. */
export interface TestFrameAnswer {
  /** Address of the picture, for as long as the page is open. */
  url: string;
  seconds: number;
  samples: number;
}

/** Key under which events put how far a test frame is. */
export const testFrameKey = (token: string): string => `/test-frame/${token}`;

/** Share that is done; undefined before the server said so. */
export const useTestFrameShare = (token: string): number | undefined => useSWR<number>(testFrameKey(token), null).data;

/** Rejects with ApiError that says why there is none, and with the signal's reason where that stops it. */
export async function renderTestFrame(
  { set, revision, run, number, scale }: TestFrameWanted,
  token: string,
  signal: AbortSignal,
): Promise<TestFrameAnswer> {
  const query = new URLSearchParams({ revision: String(revision), run, number: String(number), scale: String(scale), token });
  const { blob, headers } = await requestBlob(`/sets/${set}/test-frame.png?${query.toString()}`, signal);
  return { url: URL.createObjectURL(blob), seconds: Number(headers.get('x-render-seconds')), samples: Number(headers.get('x-render-samples')) };
}

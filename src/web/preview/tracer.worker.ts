/** A tracing worker of the live preview: the same tracer as on the server. */
import type { ToWorker } from '../../engine/scheduler/messages.js';
import { makeTracer } from '../../engine/scheduler/tileWorker.js';

let handle: ((message: ToWorker) => void) | null = null;

self.onmessage = ({ data }: MessageEvent<{ type: 'module'; module: WebAssembly.Module } | ToWorker>) => {
  if (data.type === 'module') {
    handle = makeTracer(
      data.module,
      (m) => self.postMessage(m),
      () => performance.now(),
    );
  } else handle?.(data);
};

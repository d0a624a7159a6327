/** A line over frames, loaded where one is shown. */
import { lazy, type ReactNode, Suspense } from 'react';
import type { FrameLineProps } from './FrameLine.js';
import { loadCode } from '../state/loadCode.js';

const FrameLine = lazy(() => loadCode(() => import('./FrameLine.js')));

/** Keeps its room while the code of charts is on its way. */
export function LineChart(props: FrameLineProps): ReactNode {
  return (
    <div style={{ height: props.height }}>
      <Suspense>
        <FrameLine {...props} />
      </Suspense>
    </div>
  );
}

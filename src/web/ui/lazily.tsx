/** Parts of a page that are loaded when they are first opened. */
import { type ComponentType, lazy, type ReactNode, Suspense } from 'react';
import { loadCode } from '../state/loadCode.js';

/** The component, with nothing in its place while its code is on its way. */
export function lazily<Props extends object>(pick: () => Promise<ComponentType<Props>>): (props: Props) => ReactNode {
  const Part = lazy(async () => ({ default: await loadCode(pick) })) as unknown as ComponentType<Props>;
  return (props) => (
    <Suspense>
      <Part {...props} />
    </Suspense>
  );
}

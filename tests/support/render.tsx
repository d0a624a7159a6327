/** Renders a part of the interface into a document, for tests without a browser. */
import { cleanup, render } from '@testing-library/react';
import userEvent, { type UserEvent } from '@testing-library/user-event';
import { Tooltip } from 'radix-ui';
import type { ReactNode } from 'react';
import { SWRConfig } from 'swr';
import { afterEach } from 'vitest';

afterEach(cleanup);

const withApp = (part: ReactNode): ReactNode => (
  <SWRConfig value={{ provider: () => new Map(), fetcher: () => new Promise(() => {}) }}>
    <Tooltip.Provider>{part}</Tooltip.Provider>
  </SWRConfig>
);

/** Shows `part` as the application would, without a server; returns a person who uses it, and a way to draw it anew. */
export function showAgain(part: ReactNode): { person: UserEvent; again: (part: ReactNode) => void } {
  const { rerender } = render(withApp(part));
  return { person: userEvent.setup(), again: (next) => rerender(withApp(next)) };
}

/** The same where it is drawn once. */
export const show = (part: ReactNode): UserEvent => showAgain(part).person;

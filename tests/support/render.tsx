/** Renders a part of the interface into a document, for tests without a browser. */
import { cleanup, render } from '@testing-library/react';
import userEvent, { type UserEvent } from '@testing-library/user-event';
import { Tooltip } from 'radix-ui';
import type { ReactNode } from 'react';
import { SWRConfig } from 'swr';
import { afterEach } from 'vitest';

afterEach(cleanup);

/** Shows `part` as the application would, without a server; returns a person who uses it. */
export function show(part: ReactNode): UserEvent {
  render(
    <SWRConfig value={{ provider: () => new Map(), fetcher: () => new Promise(() => {}) }}>
      <Tooltip.Provider>{part}</Tooltip.Provider>
    </SWRConfig>,
  );
  return userEvent.setup();
}

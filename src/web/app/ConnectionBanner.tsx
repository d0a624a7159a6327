import type { ReactNode } from 'react';
import { useConnected } from '../state/events.js';
import { MESSAGES } from './words.js';

/** Says that the server does not answer, and what that means for what is on screen. */
export function ConnectionBanner(): ReactNode {
  if (useConnected()) return null;
  return (
    <p role="status" data-testid="connection-banner" className="shrink-0 border-b border-ochre bg-chalk px-4 py-2 text-ochre">
      {MESSAGES.theServerDoesNot}
    </p>
  );
}

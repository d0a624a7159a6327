import type { ReactNode } from 'react';

/** An easel with a sheet on it: the product's own mark. */
export function Logo(): ReactNode {
  return (
    <svg width="20" height="20" viewBox="0 0 20 20" fill="none" stroke="currentColor" strokeWidth="1.6" aria-hidden>
      <path d="M4 3h12v8H4zM2 13h16M6 13l-2 6M14 13l2 6M10 13v4" />
    </svg>
  );
}

/** Opens a project at its set: at the model where there is none yet, else at the shots. */

/** The name that a reviewer's notes carry, as this browser keeps it. */
import { useState } from 'react';

const PLACE = 'review name';

/** The name under which notes are written; kept in the browser's storage where that is allowed. */
export function useReviewerName(): [string, (name: string) => void] {
  const [name, setName] = useState(() => {
    try {
      return localStorage.getItem(PLACE) ?? '';
    } catch {
      return '';
    }
  });
  return [
    name,
    (next) => {
      setName(next);
      try {
        localStorage.setItem(PLACE, next);
      } catch {
        // It holds until the page is closed.
      }
    },
  ];
}

/** The little of a browser that loaders ask for: a parser of XML, and pictures that never come. */
import { DOMParser } from 'linkedom';

interface Host {
  DOMParser?: unknown;
  document?: unknown;
}

/** Puts it where loaders look, while `work` runs. Pictures are left out by them, and a warning says so. */
export function withDom<T>(work: () => T): T {
  const host = globalThis as Host;
  const before: Host = { DOMParser: host.DOMParser, document: host.document };
  const picture = () => ({ style: {}, addEventListener: () => {}, removeEventListener: () => {} });
  host.DOMParser = DOMParser;
  host.document = { createElementNS: picture, createElement: picture };
  try {
    return work();
  } finally {
    Object.assign(host, before);
    if (before.DOMParser === undefined) delete host.DOMParser;
    if (before.document === undefined) delete host.document;
  }
}

/** The little of a browser that loaders ask for: a parser of XML, and pictures of which nothing comes but their addresses. */
import { DOMParser } from 'linkedom';

interface Host {
  DOMParser?: unknown;
  document?: unknown;
}

/** A picture that is "there" at once, with nothing fetched: its address alone is wanted. */
class Picture {
  readonly style = {};
  private address = '';
  private heard: (() => void) | null = null;

  addEventListener(type: string, listener: () => void): void {
    if (type === 'load') this.heard = listener;
  }

  removeEventListener(): void {}

  get src(): string {
    return this.address;
  }

  set src(address: string) {
    this.address = address;
    this.heard?.call(this);
  }
}

/** Puts it where loaders look, while `work` runs; `parsed` may change a document before the loader sees it. */
export function withDomShim<T>(work: () => T, parsed: (document: unknown) => void = () => {}): T {
  const host = globalThis as Host;
  const before: Host = { DOMParser: host.DOMParser, document: host.document };
  const picture = () => new Picture();
  host.DOMParser = class {
    parseFromString(text: string, kind: 'text/xml'): unknown {
      const document = new DOMParser().parseFromString(text, kind);
      parsed(document);
      return document;
    }
  };
  host.document = { createElementNS: picture, createElement: picture };
  try {
    return work();
  } finally {
    Object.assign(host, before);
    if (before.DOMParser === undefined) delete host.DOMParser;
    if (before.document === undefined) delete host.document;
  }
}

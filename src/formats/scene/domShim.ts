/** The little of a browser that loaders ask for: a parser of XML, and pictures of which nothing comes but their addresses. */
import { format } from 'node:util';
import { DOMParser } from 'linkedom';

interface Host {
  DOMParser?: unknown;
  document?: unknown;
  window?: unknown;
  console: Record<'debug' | 'log' | 'warn' | 'error', (...said: unknown[]) => void>;
}

/** What loaders did that only a browser can do for them. */
export interface Loaded {
  /** Bytes of a picture that was in the file, by the address that it was given; null where there is none. */
  embedded(address: string): Promise<Uint8Array | null>;
  /** What the loader warned of, in its own words, with what it put into them. */
  warned: string[];
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

/**
 * Puts it where loaders look, while `work` runs; `parsed` may change a document before the loader sees it. What loaders
 * say to the console is kept from it, for the import report.
 */
export function withDomShim<T>(work: (loaded: Loaded) => T, parsed: (document: unknown) => void = () => {}): T {
  const host = globalThis as Host;
  const before: Omit<Host, 'console'> = { DOMParser: host.DOMParser, document: host.document, window: host.window };
  const { createObjectURL } = URL;
  const { debug, log, warn, error } = host.console;
  const blobs: Blob[] = [];
  const warned: string[] = [];
  const picture = () => new Picture();
  host.DOMParser = class {
    parseFromString(text: string, kind: 'text/xml'): unknown {
      const document = new DOMParser().parseFromString(text, kind);
      parsed(document);
      return document;
    }
  };
  host.document = { createElementNS: picture, createElement: picture };
  // The shape of a camera that says none of its own.
  host.window = { innerWidth: 1920, innerHeight: 1080 };
  URL.createObjectURL = (blob) => `blob:${blobs.push(blob as Blob) - 1}`;
  // Of versions and the like.
  host.console.debug = host.console.log = () => {};
  host.console.warn = host.console.error = (...said) => void warned.push(format(...said));
  const embedded = async (address: string): Promise<Uint8Array | null> => {
    const blob = blobs[Number(/^blob:(\d+)$/.exec(address)?.[1] ?? NaN)];
    return blob ? new Uint8Array(await blob.arrayBuffer()) : null;
  };
  try {
    return work({ embedded, warned });
  } finally {
    Object.assign(host.console, { debug, log, warn, error });
    URL.createObjectURL = createObjectURL;
    for (const name of ['DOMParser', 'document', 'window'] as const) {
      if (before[name] === undefined) delete host[name];
      else host[name] = before[name];
    }
  }
}

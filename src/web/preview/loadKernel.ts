/** What workers of the page fetch to compute with. */
import { MESSAGES } from './words.js';

/** Throws an Error with the address where the server does not give it. */
export async function fetched(url: string): Promise<ArrayBuffer> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(MESSAGES.couldNotBeFetched(url, response.status));
  return response.arrayBuffer();
}

let kernel: Promise<WebAssembly.Module> | null = null;

/** The kernel, once a worker; where it cannot be fetched, the next asker tries again. Throws as `fetched` does. */
export function loadKernel(): Promise<WebAssembly.Module> {
  kernel ??= fetched('/api/kernel.wasm')
    .then((bytes) => WebAssembly.compile(bytes))
    .catch((e: unknown) => {
      kernel = null;
      throw e;
    });
  return kernel;
}

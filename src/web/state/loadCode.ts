/** Code that is fetched when it is first needed, also where the server is away just then. */

/** Milliseconds between two tries. */
const RETRY_MS = 1500;

/** Fetches a module, again and again where it cannot be fetched: what waits for it shows nothing meanwhile, and the rest of the page stays. */
export async function loadCode<Module>(pick: () => Promise<Module>, rest = RETRY_MS): Promise<Module> {
  for (;;) {
    try {
      return await pick();
    } catch {
      await new Promise((resolve) => setTimeout(resolve, rest));
    }
  }
}

/**
 * Browser tests whose pages share a context a worker: what the browser has read and compiled of the application for one test
 * is there for the next. Each test has a page of its own, and nothing that an earlier one kept.
 */
import { type BrowserContext, test as base } from '@playwright/test';
import { sharedServer } from './sharedServer.js';

export * from '@playwright/test';

/** Runs in a page before its own code. */
function takeGl(): void {
  const { getContext } = HTMLCanvasElement.prototype;
  HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, kind: string, ...rest: unknown[]) {
    return kind.startsWith('webgl') ? null : Reflect.apply(getContext, this, [kind, ...rest]);
  } as typeof getContext;
}

/** Forgets what pages of the context kept: cookies, permissions and storage. */
async function forget(context: BrowserContext): Promise<void> {
  const pages = context.pages();
  for (const page of pages) {
    const { origin, protocol } = new URL(page.url());
    if (!protocol.startsWith('http')) continue;
    const session = await context.newCDPSession(page);
    await session.send('Storage.clearDataForOrigin', { origin, storageTypes: 'local_storage,indexeddb,websql,service_workers' });
  }
  await context.clearCookies();
  await context.clearPermissions();
  // What is not saved is no question here.
  await Promise.all(pages.map((page) => page.close({ runBeforeUnload: false })));
}

/** What a test asks of its pages. */
export interface BrowserTestOptions {
  /**
   * Whether pages have WebGL. Without it the viewport says so, and everything else works as ever. Software GL takes a quarter
   * of a test's time: tests whose subject is not in the viewport go without it.
   */
  gl: boolean;
}

/** A test with a page of a context that its worker's tests share. */
export const test = base.extend<BrowserTestOptions, { sharedContext: BrowserContext; endOfServer: undefined }>({
  gl: [false, { option: true }],
  sharedContext: [
    async ({ browser }, use, { project }) => {
      const { viewport, deviceScaleFactor, acceptDownloads, contextOptions, actionTimeout } = project.use;
      const context = await browser.newContext({ viewport, deviceScaleFactor, acceptDownloads, ...contextOptions });
      context.setDefaultTimeout(actionTimeout ?? 0);
      await use(context);
      await context.close();
    },
    { scope: 'worker' },
  ],
  // Playwright reads from the empty pattern that this needs no other fixture.
  endOfServer: [
    async ({}, use) => {
      await use(undefined);
      await sharedServer.close();
    },
    { scope: 'worker', auto: true },
  ],
  context: async ({ sharedContext, gl }, use) => {
    const without = gl ? null : await sharedContext.addInitScript(takeGl);
    await use(sharedContext);
    await without?.dispose();
    await forget(sharedContext);
  },
});

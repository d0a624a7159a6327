/**
 * Browser tests whose pages share a context a worker: what the browser has read and compiled of the application for one test
 * is there for the next. Each test has a page of its own, and nothing that an earlier one kept.
 */
import { type BrowserContext, test as base } from '@playwright/test';

export * from '@playwright/test';

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

export const test = base.extend<object, { sharedContext: BrowserContext }>({
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
  context: async ({ sharedContext }, use) => {
    await use(sharedContext);
    await forget(sharedContext);
  },
});

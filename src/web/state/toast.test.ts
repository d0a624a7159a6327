import { expect, test } from 'vitest';
import { showToastsBy, toast } from './toast.js';

test('a message said before there is anything to show it is shown later, in order', async () => {
  const said: string[] = [];
  const note =
    (kind: string) =>
    (message: string): void =>
      void said.push(`${kind}: ${message}`);
  toast.error('The server is away.');
  toast('Copied.', { id: 'copied' });
  await Promise.resolve();
  expect(said).toEqual([]);
  showToastsBy(Object.assign(note('plain'), { error: note('error'), info: note('info') }));
  toast.info('Changed elsewhere.');
  await Promise.resolve();
  expect(said).toEqual(['error: The server is away.', 'plain: Copied.', 'info: Changed elsewhere.']);
});

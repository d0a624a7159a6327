import { expect, it } from 'vitest';
import { openFolder } from './openFolder.js';

it('opens a folder by the program of the platform, and says where there is none', async () => {
  await expect(openFolder('/', 'true')).resolves.toBeUndefined();
  for (const opener of ['no-such-program-of-any-machine', 'false'])
    await expect(openFolder('/', opener)).rejects.toThrow('No file manager could be opened on this machine. Copy the path of the folder instead.');
});

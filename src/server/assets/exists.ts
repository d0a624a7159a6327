/** Whether a file or folder is there. */
import { access } from 'node:fs/promises';

/** Whether the file can be reached. */
export const exists = (file: string): Promise<boolean> =>
  access(file).then(
    () => true,
    () => false,
  );

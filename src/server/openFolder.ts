/** Shows a folder in the file manager of the machine that the server runs on. */
import { spawn } from 'node:child_process';
import { ServerError } from './errors.js';

const OPENERS: Partial<Record<NodeJS.Platform, string>> = { darwin: 'open', win32: 'explorer' };
const OTHER_OPENER = 'xdg-open';
/** Milliseconds in which a program that cannot do it says so. */
const FAULT_MS = 400;

/** @param opener the program that opens folders; that of the platform where absent. Throws ServerError where there is none that works. */
export async function openFolder(folder: string, opener = OPENERS[process.platform] ?? OTHER_OPENER): Promise<void> {
  const child = spawn(opener, [folder], { stdio: 'ignore', detached: true });
  const opened = await new Promise<boolean>((resolve) => {
    child.once('error', () => resolve(false));
    // The one of Windows ends with 1 although it opened.
    child.once('exit', (code) => resolve(code === 0 || process.platform === 'win32'));
    setTimeout(() => resolve(true), FAULT_MS);
  });
  child.unref();
  if (!opened) throw new ServerError('unusable', 'No file manager could be opened on this machine. Copy the path of the folder instead.');
}

/** Thumbnails are kept by what they show: servers of one run of the browser tests share them, as pages of one server do. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** Names the folder to the processes that run tests. */
export const SHARED_THUMBNAILS = 'EASEL_TEST_THUMBNAILS';

/** Makes the folder before a run, and returns what removes it. */
export default function setUp(): () => void {
  const folder = mkdtempSync(path.join(tmpdir(), 'easel-test-thumbnails-'));
  process.env[SHARED_THUMBNAILS] = folder;
  return () => rmSync(folder, { recursive: true, force: true });
}

import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { FOLDERS, prepareFolders } from './folders.js';

let root: string;
beforeEach(() => {
  root = mkdtempSync(path.join(tmpdir(), 'easel-folders-'));
});
afterEach(() => rmSync(root, { recursive: true, force: true }));
const put = (file: string, text: string): void => {
  mkdirSync(path.dirname(path.join(root, file)), { recursive: true });
  writeFileSync(path.join(root, file), text);
};

describe('the folders of a data folder', () => {
  it('are made where they are missing', async () => {
    await prepareFolders(root);
    expect(readdirSync(root).sort()).toEqual([...FOLDERS]);
  });

  it('take over what lies under former names, with everything below', async () => {
    put('surrounds/sky.hdr', 'sky');
    put('small/ab/ab-96.webp', 'thumb');
    put('films/1-0.film', 'sums');
    await prepareFolders(root);
    await prepareFolders(root);
    expect(readdirSync(root).sort()).toEqual([...FOLDERS]);
    expect(readFileSync(path.join(root, 'environments/sky.hdr'), 'utf8')).toBe('sky');
    expect(readFileSync(path.join(root, 'thumbnails/ab/ab-96.webp'), 'utf8')).toBe('thumb');
    expect(readFileSync(path.join(root, 'checkpoints/1-0.film'), 'utf8')).toBe('sums');
  });

  it('overwrite nothing: what is there under both names stays under both', async () => {
    put('surrounds/sky.hdr', 'earlier');
    put('environments/sky.hdr', 'present');
    await prepareFolders(root);
    expect(readFileSync(path.join(root, 'environments/sky.hdr'), 'utf8')).toBe('present');
    expect(readFileSync(path.join(root, 'surrounds/sky.hdr'), 'utf8')).toBe('earlier');
  });
});

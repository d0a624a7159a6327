import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Trash } from './trash.js';

const DAY = 86_400_000;
const NOON = Date.parse('2026-11-27T12:00:00Z');
let root: string;
beforeEach(() => {
  root = mkdtempSync(path.join(tmpdir(), 'easel-trash-'));
  mkdirSync(path.join(root, 'models'));
});
afterEach(() => rmSync(root, { recursive: true, force: true }));

describe('the trash', () => {
  it('takes files by day and gives them back', async () => {
    const trash = new Trash(root, 30, () => NOON);
    writeFileSync(path.join(root, 'models', 'a.glb'), 'one');
    await trash.take(['models/a.glb']);
    expect(existsSync(path.join(root, 'models', 'a.glb'))).toBe(false);
    expect(readFileSync(path.join(root, 'trash', '2026-11-27', 'models', 'a.glb'), 'utf8')).toBe('one');
    expect(await trash.restore('models/a.glb')).toBe(true);
    expect(readFileSync(path.join(root, 'models', 'a.glb'), 'utf8')).toBe('one');
    expect(await trash.restore('models/a.glb')).toBe(false);
  });

  it('keeps two of one name', async () => {
    const trash = new Trash(root, 30, () => NOON);
    for (const text of ['one', 'two']) {
      writeFileSync(path.join(root, 'models', 'a.glb'), text);
      await trash.take(['models/a.glb']);
    }
    expect(readdirSync(path.join(root, 'trash', '2026-11-27', 'models')).sort()).toEqual(['a.glb', 'a.glb~2']);
  });

  it.each([
    [29, 29, 0],
    [32, 32, 1],
    // A clock that was set back or forward when it was made: name and time do not agree, so it is kept.
    [32, 0, 0],
    [0, 32, 0],
  ])('a folder named %i and last changed %i days ago is emptied: %i', async (named, changed, gone) => {
    const day = new Date(NOON - named * DAY).toISOString().slice(0, 10);
    const folder = path.join(root, 'trash', day);
    mkdirSync(folder, { recursive: true });
    const at = new Date(NOON - changed * DAY);
    utimesSync(folder, at, at);
    expect(await new Trash(root, 30, () => NOON).empty()).toHaveLength(gone);
    expect(existsSync(folder)).toBe(gone === 0);
  });

  it('leaves what is not its own', async () => {
    mkdirSync(path.join(root, 'trash', 'notes'), { recursive: true });
    await new Trash(root, 1, () => NOON + 1000 * DAY).empty();
    expect(existsSync(path.join(root, 'trash', 'notes'))).toBe(true);
  });
});

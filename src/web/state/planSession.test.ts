// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { emptySet, type SetFile } from '../../core/plan/set.js';
import { PlanSession } from './planSession.js';
import { keepUnsaved } from './unsavedEdit.js';
import { MESSAGES } from './words.js';

const START = emptySet('one');
const rename =
  (name: string) =>
  (file: SetFile): SetFile => ({ ...file, name });

/** What the server has: set 7 of project 1. It refuses what it is sent while `refuses`. */
const server = { file: START, version: 3, refuses: false };

function answer(_: string, init?: RequestInit): Response {
  if (init?.method === 'PUT') {
    if (server.refuses) return new Response(JSON.stringify({ detail: 'There is no room on the disk.' }), { status: 507 });
    server.file = (JSON.parse(init.body as string) as { file: SetFile }).file;
    server.version++;
  }
  return new Response(JSON.stringify({ projectId: 1, file: server.file, version: server.version, content: server.file.name }));
}

const sessionOf = async (setId: number | undefined, projectId = 1, isLive = true): Promise<PlanSession> => {
  const session = new PlanSession(setId, projectId);
  await session.load(() => isLive);
  return session;
};

beforeEach(() => {
  Object.assign(server, { file: START, version: 3, refuses: false });
  sessionStorage.clear();
  localStorage.clear();
  vi.stubGlobal('fetch', (url: string, init?: RequestInit) => Promise.resolve(answer(url, init)));
});
afterEach(() => vi.unstubAllGlobals());

describe('a set being planned', () => {
  it('is shown as the server has it, and nothing that came too late', async () => {
    expect((await sessionOf(7)).shown()).toMatchObject({ file: START, version: 'one', problem: null });
    expect((await sessionOf(7, 1, false)).shown()).toMatchObject({ file: null, problem: null });
  });

  it('says where there is none, and where it is of another project', async () => {
    expect((await sessionOf(undefined)).shown()).toMatchObject({ file: null, problem: MESSAGES.noSuchSet });
    expect((await sessionOf(7, 2)).shown()).toMatchObject({ file: null, problem: MESSAGES.setOfAnotherProject });
  });

  it('is on the server once it is flushed, and tells the page of each change until nobody listens', async () => {
    const session = await sessionOf(7);
    const heard = vi.fn();
    const end = session.subscribe(heard);
    expect(session.edit(rename('two'))).toBeNull();
    expect(session.shown()).toMatchObject({ file: { name: 'two' }, saving: true, version: 'one' });
    await session.flush();
    expect(server.file.name).toBe('two');
    expect(session.shown()).toMatchObject({ saving: false, version: 'two' });
    const before = heard.mock.calls.length;
    expect(before).toBeGreaterThan(1);
    end();
    session.undo();
    expect(session.shown().file?.name).toBe('one');
    expect(heard).toHaveBeenCalledTimes(before);
  });

  it('refuses an edit that makes no set, with its reason', async () => {
    const session = await sessionOf(7);
    expect(session.edit((file) => ({ ...file, name: '' }))).not.toBeNull();
    expect(session.shown().file).toEqual(START);
  });

  it('is restored by the next page where saving failed, and can be undone there', async () => {
    server.refuses = true;
    const first = await sessionOf(7);
    first.edit(rename('two'));
    await expect(first.flush()).rejects.toThrow('There is no room on the disk.');
    first.leave();
    server.refuses = false;
    const next = await sessionOf(7);
    expect(next.shown().file?.name).toBe('two');
    await next.flush();
    expect(server.file.name).toBe('two');
    next.undo();
    expect(next.shown().file?.name).toBe('one');
  });

  it('does not restore what had arrived and was changed since', async () => {
    keepUnsaved(7, { base: START, file: rename('two')(START), version: 2, failed: false });
    server.file = rename('three')(START);
    expect((await sessionOf(7)).shown().file?.name).toBe('three');
  });
});

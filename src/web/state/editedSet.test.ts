// @vitest-environment happy-dom
import { beforeEach, describe, expect, it } from 'vitest';
import { emptySet, type SetFile } from '../../core/plan/set.js';
import { EditedSet, mergeSets } from './editedSet.js';

const rename =
  (name: string) =>
  (file: SetFile): SetFile => ({ ...file, name });
const resize =
  (width: number) =>
  (file: SetFile): SetFile => ({ ...file, sheet: { ...file.sheet, size: { ...file.sheet.size, width } } });
const START = emptySet('one');

/** The set of number 7 as it was fetched. */
function fetched(file = START): EditedSet {
  const edited = new EditedSet(7);
  edited.begin(file);
  return edited;
}

beforeEach(() => sessionStorage.clear());

describe('a set that is edited', () => {
  it('is undone edit by edit, made again, and not made again after another edit', () => {
    const edited = fetched();
    edited.edit(rename('two'));
    edited.edit(rename('three'));
    expect([edited.undo()?.name, edited.undo()?.name, edited.undo()]).toEqual(['two', 'one', null]);
    expect([edited.redo()?.name, edited.now?.name]).toEqual(['two', 'two']);
    edited.edit(rename('four'));
    expect(edited.redo()).toBeNull();
    expect([edited.undo()?.name, edited.undo()?.name]).toEqual(['two', 'one']);
  });

  it('says what is wrong with an edit, and changes nothing by it', () => {
    const edited = fetched();
    expect(edited.edit(resize(0))).toEqual({ problem: expect.stringMatching(/at least 1/i) as string });
    expect(edited.now).toEqual(START);
    expect(edited.undo()).toBeNull();
  });

  it('is not edited before it is there', () => {
    const edited = new EditedSet(7);
    expect([edited.edit(rename('two')), edited.undo(), edited.redo(), edited.now]).toEqual([null, null, null, null]);
  });

  it('undoes 200 edits, and none before', () => {
    const edited = fetched();
    for (let i = 0; i < 205; i++) edited.edit(rename(`edit ${i}`));
    const names = Array.from({ length: 201 }, () => edited.undo()?.name);
    expect(names.slice(-2)).toEqual(['edit 4', undefined]);
  });

  it('is undone after a reload where the server has it as it was left, and only then', () => {
    fetched().edit(rename('two'));
    expect(fetched(rename('elsewhere')(START)).undo()).toBeNull();
    expect(fetched(rename('two')(START)).undo()?.name).toBe('one');
  });

  it('undoes what was done here, and nothing of what was changed elsewhere', () => {
    const edited = fetched();
    edited.edit(rename('two'));
    const theirs = resize(640)(START);
    edited.merge(START, theirs, mergeSets(START, edited.now!, theirs));
    expect([edited.now?.name, edited.now?.sheet.size.width]).toEqual(['two', 640]);
    const back = edited.undo();
    expect([back?.name, back?.sheet.size.width]).toEqual(['one', 640]);
    const again = edited.redo();
    expect([again?.name, again?.sheet.size.width]).toEqual(['two', 640]);
  });
});

describe('two edits of one set', () => {
  it('are both kept where they make a set together; else ours holds', () => {
    expect(mergeSets(START, rename('two')(START), resize(640)(START))).toEqual(resize(640)(rename('two')(START)));
    const two = rename('two')(START);
    expect(mergeSets(START, two, resize(0)(START))).toEqual(two);
  });
});

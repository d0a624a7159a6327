import { describe, expect, it } from 'vitest';
import { checkWords, collectWords, type Word } from '../../tests/support/words.js';

const word = (kind: Word['kind'], text: string): Word => ({ file: 'x.ts', line: 1, kind, key: 'x', text });

describe('what people read', () => {
  const words = collectWords(process.cwd());

  it('is found in the tables of every feature, and in sentences elsewhere', () => {
    const of = (file: string): Word[] => words.filter((w) => w.file.startsWith(file));
    for (const feature of ['access', 'batch', 'model', 'projects', 'review', 'shots', 'stage', 'views'])
      expect(of(`src/web/features/${feature}/`).filter((w) => w.kind === 'label').length).toBeGreaterThan(3);
    expect(of('src/core/').some((w) => w.text === 'Write a colour as #rrggbb.')).toBe(true);
    expect(words.find((w) => w.text === 'Near clipping')).toMatchObject({
      file: 'src/web/features/views/words.ts',
      kind: 'label',
      key: 'nearClipping',
    });
    expect(words.length).toBeGreaterThan(1500);
  });

  it('has no turn that reads as translated, short labels, and short help in whole sentences', () => {
    expect(checkWords(words)).toEqual([]);
  });

  it.each([
    [word('message', 'Pick the parts that wear it.'), 'not "wear"'],
    [word('message', 'Hand on to another part.'), 'not "Hand on"'],
    [word('label', 'Ready stages'), 'not "Ready stages"'],
    [word('label', 'The light of the sky'), 'a label of 5 words'],
    [word('help', `${'Long '.repeat(40)}help.`), 'help of 205 characters'],
    [word('help', 'Metres'), 'full stop'],
  ])('of %j is refused', (text, fault) => {
    expect(checkWords([text])).toEqual([expect.stringContaining(fault)]);
  });

  it('may say finish as a verb', () => {
    expect(checkWords([word('label', 'Finish now'), word('message', 'The batch has finished.')])).toEqual([]);
  });
});

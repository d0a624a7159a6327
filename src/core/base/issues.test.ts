import { describe, expect, it } from 'vitest';
import * as z from 'zod';
import { describeIssues, fieldProblem } from './issues.js';

const schema = z.strictObject({
  name: z.string().min(1).max(4),
  count: z.int().min(1).max(9),
  above: z.number().gt(2).multipleOf(0.5).optional(),
  kind: z.enum(['still', 'turntable']),
  version: z.literal(2),
  list: z.array(z.number()).max(1),
  pair: z.tuple([z.number(), z.number()]),
  code: z.string().regex(/^x$/).optional(),
  own: z
    .string()
    .refine(() => false, 'Write it otherwise.')
    .optional(),
  either: z.union([z.literal('a'), z.strictObject({ b: z.number() })]).optional(),
});
const good = { name: 'abc', count: 3, kind: 'still', version: 2, list: [], pair: [1, 2] };
const problems = (change: object): string[] => {
  const result = schema.safeParse({ ...good, ...change });
  return result.success ? [] : describeIssues(result.error);
};

describe('describeIssues', () => {
  it.each<[object, string]>([
    [{ name: undefined }, 'name: this is missing; give a text.'],
    [{ name: 7 }, 'name: give a text.'],
    [{ name: '' }, 'name: this is less than is accepted; give at least 1 character.'],
    [{ name: 'abcde' }, 'name: this is more than is accepted; give at most 4 characters.'],
    [{ count: NaN }, 'count: give a number.'],
    [{ count: 1.5 }, 'count: give a whole number.'],
    [{ count: 10 }, 'count: this is more than is accepted; give at most 9.'],
    [{ above: 2 }, 'above: this is less than is accepted; give more than 2.'],
    [{ above: 2.7 }, 'above: give a multiple of 0.5.'],
    [{ kind: 'x' }, 'kind: choose one of "still", "turntable".'],
    [{ version: 1 }, 'version: this must be 2.'],
    [{ list: [1, 2] }, 'list: this is more than is accepted; give at most 1 item.'],
    [{ pair: [1] }, 'pair: this is less than is accepted; give at least 2 items.'],
    [{ list: ['a'] }, 'list[0]: give a number.'],
    [{ code: 'y' }, 'code: this text does not have the expected form.'],
    [{ own: 'y' }, 'own: Write it otherwise.'],
    [{ either: 3 }, 'either: none of the accepted forms fits this value; see docs/set-file.md.'],
    [{ either: { b: 'x' } }, 'either.b: give a number.'],
    [{ extra: 1 }, 'extra: this key is not known here; remove it or correct its spelling.'],
  ])('%j: %s', (change, sentence) => {
    expect(problems(change)).toContain(sentence);
  });
});

describe('fieldProblem', () => {
  it.each<[object, string]>([
    [{ count: 0 }, 'Give at least 1.'],
    [{ count: undefined }, 'Give a number.'],
    [{ kind: 'x' }, 'Choose one of "still", "turntable".'],
    [{ own: 'y' }, 'Write it otherwise.'],
  ])('%j: %s', (change, sentence) => {
    const result = schema.safeParse({ ...good, ...change });
    expect(fieldProblem(result.error!)).toBe(sentence);
  });
});

/** A failed validation as sentences: where, what is wrong, and what is accepted. */
import type * as z from 'zod';
import { pluralize } from './pluralize.js';

type Issue = z.core.$ZodIssue;

/** What the validation library would say by itself: written for programmers, so that it is said anew. */
const LIBRARY_MESSAGE = /^(Invalid |Too (big|small)|Unrecognized )/;

const TYPE_NAMES: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  tuple: 'a list',
  object: 'an object',
};

/** What a limit counts, by what is limited; a number is its own. */
const COUNTED: Readonly<Record<string, string>> = { string: 'character', array: 'item', file: 'byte' };

/** "3 items", "1 character". */
function formatLimit(n: number | bigint, origin: string): string {
  const noun = COUNTED[origin];
  return noun ? pluralize(Number(n), noun) : String(n);
}

/** What is wrong at one place. */
function describeMessage(issue: Issue): string {
  if (issue.code === 'unrecognized_keys') return '';
  if (issue.code === 'invalid_union' && 'discriminator' in issue && issue.discriminator)
    return 'this kind is not known here; see docs/set-file.md for the kinds there are.';
  // What a schema of ours says is a sentence already.
  if (!LIBRARY_MESSAGE.test(issue.message)) return issue.message;
  switch (issue.code) {
    case 'invalid_type': {
      const wanted = TYPE_NAMES[issue.expected] ?? 'another kind of value';
      return issue.message.endsWith('received undefined') ? `this is missing; give ${wanted}.` : `give ${wanted}.`;
    }
    case 'invalid_value':
      return issue.values.length === 1
        ? `this must be ${JSON.stringify(issue.values[0])}.`
        : `choose one of ${issue.values.map((v) => JSON.stringify(v)).join(', ')}.`;
    case 'too_big':
      return `this is more than is accepted; give ${issue.inclusive === false ? 'less than' : 'at most'} ${formatLimit(issue.maximum, issue.origin)}.`;
    case 'too_small':
      return `this is less than is accepted; give ${issue.inclusive === false ? 'more than' : 'at least'} ${formatLimit(issue.minimum, issue.origin)}.`;
    case 'not_multiple_of':
      return `give a multiple of ${issue.divisor}.`;
    case 'invalid_format':
      return 'this text does not have the expected form.';
    case 'invalid_union':
      return 'none of the accepted forms fits this value; see docs/set-file.md.';
    default:
      return 'this value is not accepted.';
  }
}

/** The issues of the form that a value was meant to have: of several, the one that fails inside the value and not as a whole. */
function expand(issue: Issue): Issue[] {
  if (issue.code !== 'invalid_union' || !issue.errors) return [issue];
  const meant = issue.errors.find((issues) => issues.length > 0 && issues.every((sub) => sub.path.length > 0));
  return meant ? meant.flatMap((sub) => expand({ ...sub, path: [...issue.path, ...sub.path] })) : [issue];
}

/** A Zod error as lines of "path: what is wrong". */
export function describeIssues(error: z.ZodError): string[] {
  return error.issues.flatMap(expand).map((issue) => {
    const path =
      issue.path
        .map((p) => (typeof p === 'number' ? `[${p}]` : `.${String(p)}`))
        .join('')
        .replace(/^\./, '') || 'the file';
    if (issue.code === 'unrecognized_keys')
      return `${path === 'the file' ? '' : path + '.'}${issue.keys.join(', ')}: this key is not known here; remove it or correct its spelling.`;
    return `${path}: ${describeMessage(issue)}`;
  });
}

/** The first thing that is wrong, as a field says it of its own value: what to give, without the path. */
export function fieldProblem(error: z.ZodError): string {
  const [issue] = error.issues.flatMap(expand);
  // Keys that are not known have no field: they are told with their names.
  const text = (describeMessage(issue!) || describeIssues(error)[0]!).replace(/^this is [^;]*; /, '');
  return text.charAt(0).toUpperCase() + text.slice(1);
}

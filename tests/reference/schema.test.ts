import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { parseSet } from '../../src/core/plan/set.js';
import { schemaText } from '../../scripts/schema.js';

it('the published JSON Schema is the one that the program checks by', () => {
  expect(readFileSync('docs/set-file.schema.json', 'utf8')).toBe(schemaText());
});

it('the example in the documentation is a valid set', () => {
  const example = /```json\n([\s\S]*?)```/.exec(readFileSync('docs/set-file.md', 'utf8'))![1]!;
  expect(parseSet(JSON.parse(example)).shots.map((s) => s.kind)).toEqual(['still', 'turntable']);
});

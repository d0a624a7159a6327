/** Writes docs/set-file.schema.json from the Zod schema. */
import { writeFileSync } from 'node:fs';
import * as z from 'zod';
import { setSchema } from '../src/core/plan/set.js';

/** JSON Schema of the set file, as docs/ has it. */
export function schemaText(): string {
  return `${JSON.stringify(z.toJSONSchema(setSchema, { io: 'input' }), null, 2)}\n`;
}

if (process.argv[1]?.endsWith('schema.ts')) writeFileSync(new URL('../docs/set-file.schema.json', import.meta.url), schemaText());

/**
 * What `easel render` has finished, a line of JSON a frame, beside the files: a render that was stopped or killed goes on
 * from there. A line is written after the files of its frame are whole.
 */
import { createHash } from 'node:crypto';
import { appendFileSync, existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import * as z from 'zod';

/** Name of the journal in the folder of the files. */
export const JOURNAL = 'easel-render.jsonl';

const entrySchema = z.object({
  /** filesKeyOf of the frame. */
  key: z.string(),
  files: z.array(z.object({ name: z.string(), sha256: z.string() })),
  seconds: z.number(),
  samples: z.number(),
});
/** What {@link entrySchema} reads. */
export type JournalEntry = z.infer<typeof entrySchema>;

/** Entries of a folder's journal by key, the latest of each; a last line that was cut off is left out. */
export function readJournal(folder: string): Map<string, JournalEntry> {
  const file = path.join(folder, JOURNAL);
  const entries = new Map<string, JournalEntry>();
  if (!existsSync(file)) return entries;
  for (const line of readFileSync(file, 'utf8').split('\n')) {
    let json: unknown;
    try {
      json = JSON.parse(line);
    } catch {
      continue;
    }
    const entry = entrySchema.safeParse(json);
    if (entry.success) entries.set(entry.data.key, entry.data);
  }
  return entries;
}

/** Notes a finished frame. A line that was cut off before it is closed first. */
export function noteFrame(folder: string, entry: JournalEntry): void {
  appendFileSync(path.join(folder, JOURNAL), `\n${JSON.stringify(entry)}\n`);
}

/** SHA-256 in 64 hexadecimal digits. */
export const sha256Of = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Whether the files of a finished frame are there, under these names, as they were written. */
export function isWhole(folder: string, { files }: JournalEntry, names: readonly string[]): boolean {
  return (
    files.length === names.length &&
    files.every(({ name, sha256 }, i) => {
      const file = path.join(folder, name);
      return name === names[i] && existsSync(file) && sha256Of(readFileSync(file)) === sha256;
    })
  );
}

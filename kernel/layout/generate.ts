/** The text of offsets.ts, from the schema. */
import { type Field, type FieldType, type Gap, RECORDS, type RecordSchema } from './schema';

const WORD = 4;

/** Bytes of one value. */
function sizeOf(type: FieldType): number {
  return type === 'f32' || type === 'u32' || type === 'i32' ? WORD : strideOf(RECORDS[type]!);
}

const isGap = (entry: Field | Gap): entry is Gap => 'gap' in entry;
const bytesOf = (entry: Field | Gap): number => (isGap(entry) ? entry.gap * WORD : sizeOf(entry[1]) * entry[2]);

/** Bytes from one record to the next. */
export function strideOf({ fields }: RecordSchema): number {
  return fields.reduce((sum, entry) => sum + bytesOf(entry), 0);
}

/** Every field with its offset in bytes. */
export function placesOf({ fields }: RecordSchema): { field: Field; offset: number }[] {
  let at = 0;
  return fields.flatMap((entry) => {
    const offset = at;
    at += bytesOf(entry);
    return isGap(entry) ? [] : [{ field: entry, offset }];
  });
}

/** The whole of offsets.ts: RECORD_FIELD is an offset, RECORD_BYTES the stride. */
export function offsetsSource(): string {
  const records = Object.entries(RECORDS).map(([name, record]) => {
    const lines = placesOf(record).map(({ field: [field, type, count, meaning], offset }) => {
      const what = `${type}${count > 1 ? `[${count}]` : ''}${meaning && ` ${meaning}`}`;
      return `export const ${name}_${field} = ${offset}; // ${what}`;
    });
    return [`/** ${record.about} */`, ...lines, `export const ${name}_BYTES = ${strideOf(record)};`].join('\n');
  });
  return `// Written by npm run layout from schema.ts; change that.\n\n${records.join('\n\n')}\n`;
}

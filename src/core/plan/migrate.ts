/** Brings files of earlier versions up to the present one, step by step. */

/** A file before it is checked. */
export type Json = Record<string, unknown>;
/** Rewrites a file of one version as the next. */
export type MigrationStep = (file: Json) => Json;

/**
 * The file as the present version has it; what is no file of a version is handed back as it is, for its schema
 * to refuse. `steps[v]` takes version v to v + 1. Throws a sentence where the file is of a later version, or of one
 * that nothing leads on from.
 */
export function migrate(file: unknown, present: number, steps: Readonly<Record<number, MigrationStep>>, what: string): unknown {
  if (typeof file !== 'object' || file === null || Array.isArray(file)) return file;
  const { version } = file as Json;
  if (typeof version !== 'number' || !Number.isInteger(version)) return file;
  if (version > present)
    throw new Error(
      `version: this ${what} is of version ${version}, and this application reads up to ${present}. Update the application, or export the ${what} from an earlier one.`,
    );
  let out = file as Json;
  for (let v = version; v < present; v++) {
    const step = steps[v];
    if (!step) throw new Error(`version: there is no migration from version ${v} of a ${what}; export it again from the application that wrote it.`);
    out = { ...step(out), version: v + 1 };
  }
  return out;
}

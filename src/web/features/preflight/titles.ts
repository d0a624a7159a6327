/** What findings are called, by their ids. */
import { FINDINGS } from '../../../core/preflight/findings.js';

/** Title of each finding by its id. */
export const FINDING_TITLES: Readonly<Record<string, string>> = Object.fromEntries(FINDINGS.map((f) => [f.id, f.title]));

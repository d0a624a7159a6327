/** What the process that compares revisions is asked and answers. It reads rows itself: their parts may be tens of megabytes. */

/** What the process is asked for. */
export type MatchTask =
  /** Compares two revisions; PartMatch[] as JSON is written to the file `out`. */
  | { kind: 'match'; database: string; earlier: number; later: number; out: string }
  /** Lets the sets of a project follow the parts of its next revision, whose summary is the file `summary`. */
  | { kind: 'remap'; database: string; earlier: number; project: number; summary: string };

/** What became of one set. */
export interface RemapResult {
  id: number;
  /** Version of the set that was read. */
  version: number;
  /** The changed set file as JSON; null where nothing in it was renamed. */
  file: string | null;
  name: string;
  /** Paths of parts whose groups of faces are divided in another way than before. */
  regrouped: string[];
  /** Why the set could not be read; it is then left as it is. */
  problem?: string;
}

/** `unmeasured` is the revision that an earlier version of the application imported without measuring its parts: it compares with nothing. */
export type MatchDone = ({ unmeasured: number } | { matched: true } | { sets: RemapResult[] }) & {
  /** Bytes of JSON that were gone through. */
  bytes: number;
};

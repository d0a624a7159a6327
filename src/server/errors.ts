/**
 * Every error that the interface answers with, in one catalogue: a code for programs, a status, a title, and
 * what to do about it. The sentence that says what happened, and to what, is written where it happens.
 */
export const ERROR_CATALOGUE = {
  'invalid-input': { status: 400, title: 'Invalid input', remedy: 'Correct the fields that are named and send it again.' },
  'signed-out': { status: 401, title: 'Sign-in needed', remedy: 'Sign in with the passphrase of this server, or send an access token.' },
  forbidden: { status: 403, title: 'Refused', remedy: 'Open Cold Easel at its own address, or ask for a role that may do this.' },
  'not-found': { status: 404, title: 'Not found', remedy: 'Go back to the projects and open it from there.' },
  conflict: { status: 409, title: 'Conflict', remedy: 'Reload to see the current state, then decide again.' },
  'too-large': { status: 413, title: 'Too large', remedy: 'Reduce the file and send it again.' },
  'unsupported-type': { status: 415, title: 'Unsupported type', remedy: 'Send one of the types that are named.' },
  unusable: { status: 422, title: 'Cannot be used', remedy: 'Correct what the message names and try again.' },
  'too-many-attempts': { status: 429, title: 'Too many attempts', remedy: 'Wait for the stated time, then try again.' },
  internal: { status: 500, title: 'Internal fault', remedy: 'Try again. If it happens again, report the reference and the server log around it.' },
  'storage-unavailable': {
    status: 503,
    title: 'Storage unavailable',
    remedy: 'Check that the data folder exists, can be written and its disk is sound.',
  },
  'database-busy': { status: 503, title: 'Database busy', remedy: 'Try again in a moment; nothing was changed.' },
  'database-corrupt': {
    status: 503,
    title: 'Database damaged',
    remedy: 'Stop the server, run "easel check", and restore a backup with "easel restore".',
  },
  overloaded: { status: 503, title: 'Busy', remedy: 'Try again in a moment.' },
  'disk-full': { status: 507, title: 'Disk full', remedy: 'Free some disk space and try again; nothing was changed.' },
} as const satisfies Record<string, { status: number; title: string; remedy: string }>;

/** A key of {@link ERROR_CATALOGUE}. */
export type ErrorCode = keyof typeof ERROR_CATALOGUE;

/** An error that a person or a program is told of: its code, and a sentence that says what happened and to what. */
export class ServerError extends Error {
  override name = 'ServerError';

  /** @param retryAfter seconds after which it is worth trying again, sent as Retry-After. */
  constructor(
    readonly code: ErrorCode,
    message: string,
    readonly retryAfter?: number,
  ) {
    super(message);
  }

  get status(): number {
    return ERROR_CATALOGUE[this.code].status;
  }
}

/** A thing that is asked for and does not exist. */
export function notFound(what: string): ServerError {
  return new ServerError('not-found', `${what} does not exist; it may have been deleted.`);
}

/** What the operating system or the database says, as a code and a sentence of ours. The first that matches counts. */
const SYSTEM_FAULTS: [RegExp, ErrorCode, string, number?][] = [
  [/^(ENOSPC|EDQUOT|SQLITE_FULL)$/, 'disk-full', 'The disk is full.'],
  [/^(SQLITE_BUSY|SQLITE_LOCKED)/, 'database-busy', 'The database is locked by another program.', 2],
  [/^(SQLITE_CORRUPT|SQLITE_NOTADB)/, 'database-corrupt', 'The database is damaged.'],
  [
    /^(SQLITE_IOERR|SQLITE_CANTOPEN|SQLITE_READONLY|SQLITE_PERM)/,
    'storage-unavailable',
    'The database cannot be written: its folder is gone or read-only.',
    5,
  ],
  [/^(EACCES|EPERM|EROFS)$/, 'storage-unavailable', 'The data folder cannot be written: permission is missing, or the disk is read-only.', 5],
  [/^(EIO|ENXIO|ENODEV|ESTALE)$/, 'storage-unavailable', 'The disk reports a fault while reading or writing.', 5],
  [/^(EMFILE|ENFILE)$/, 'overloaded', 'Too many files are open on this machine.', 2],
  [/^ENAMETOOLONG$/, 'unusable', 'A file name is longer than the disk allows.'],
];

/** An error as libraries wrap it. */
interface Wrapped {
  code?: unknown;
  original?: unknown;
  parent?: unknown;
  cause?: unknown;
}

const MAX_WRAPS = 5;

/** The code that Node or SQLite gave an error, or the one of the error that it wraps; empty where there is none. */
function systemCode(error: unknown): string {
  let at = error as Wrapped | null | undefined;
  for (let depth = 0; at && depth < MAX_WRAPS; depth++) {
    if (typeof at.code === 'string') return at.code;
    at = (at.original ?? at.parent ?? at.cause) as Wrapped | undefined;
  }
  return '';
}

/**
 * What a failed file or database operation means, or null where it is none of these: a fault of the program.
 * A folder that disappears under the server (ENOENT) counts as storage only where `writing`.
 */
export function storageFault(error: unknown, writing = false): ServerError | null {
  if (error instanceof ServerError) return ERROR_CATALOGUE[error.code].status >= 503 ? error : null;
  const code = systemCode(error);
  if (writing && code === 'ENOENT') return new ServerError('storage-unavailable', 'The data folder is gone.', 5);
  const known = SYSTEM_FAULTS.find(([pattern]) => pattern.test(code));
  if (known) return new ServerError(known[1], known[2], known[3]);
  // A write that waited for a lock until its time was over comes without a code.
  return (error as Error | null)?.name === 'SequelizeTimeoutError'
    ? new ServerError('database-busy', 'The database is locked by another program.', 2)
    : null;
}

/** Tokens of file names. */

/** File names by pattern: {token} or {token:padding}, folders by "/". */

/** Words in braces that names of files are made of. */
export const NAME_TOKENS = [
  'project',
  'model',
  'revision',
  'set',
  'shot',
  'view',
  'pass',
  'frame',
  'size',
  'variant',
  'batch',
  'author',
  'date',
  'time',
] as const;

/** One of {@link NAME_TOKENS}. */
export type NameToken = (typeof NAME_TOKENS)[number];

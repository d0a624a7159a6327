/** Tokens of file names. */

/** File names by pattern: {token} or {token:padding}, folders by "/". */

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

export type NameToken = (typeof NAME_TOKENS)[number];

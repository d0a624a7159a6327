/** What pages of the server's own that need no script may load. */
import { createHash } from 'node:crypto';

/** A policy of their one style alone, known by its hash (Content Security Policy Level 3). */
export const policyOfStyle = (style: string): string =>
  `default-src 'none'; style-src 'sha256-${createHash('sha256').update(style).digest('base64')}'; frame-ancestors 'none'`;

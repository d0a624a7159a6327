/** Requests and replies about who may in. */
import * as z from 'zod';

/** Whether this browser may come in. */
export const sessionReply = z.object({
  /** Whether whoever asks must sign in, and whether that is so. */
  required: z.boolean(),
  signedIn: z.boolean(),
  /** How this caller came in; absent where it did not. */
  kind: z.enum(['local', 'session', 'token']).optional(),
  role: z.enum(['owner', 'edit', 'review', 'worker']).optional(),
  /** What requests that change something send along as x-csrf-token; of a session alone. */
  csrf: z.string().optional(),
  /** Whether others can reach this server. */
  exposed: z.boolean(),
});

/** A passphrase that is offered. */
export const signInRequest = z.strictObject({ passphrase: z.string().min(1, 'Give the passphrase.').max(1000) });

/** A token to be made for a program. */
export const tokenRequest = z.strictObject({
  name: z
    .string()
    .trim()
    .min(1, 'Give it a name.')
    .max(80, 'A name has at most 80 letters.')
    .regex(/^[^\p{Cc}]*$/u, 'A name has no control characters.'),
  role: z.enum(['edit', 'review', 'worker']),
});

/** A token, without its secret. */
export const tokenReply = z.object({
  id: z.int(),
  name: z.string(),
  role: z.enum(['edit', 'review', 'worker']),
  created: z.string(),
  lastUsed: z.string().nullable(),
});

/** The one time that a token's secret is told. */
export const newTokenReply = tokenReply.extend({ secret: z.string() });

/** Who did what, the newest first; times in ISO 8601. */
export const auditReply = z.array(z.object({ id: z.int(), time: z.string(), who: z.string(), what: z.string(), detail: z.string() }));

/** What {@link sessionReply} reads. */
export type SessionReply = z.infer<typeof sessionReply>;
/** What {@link tokenReply} reads. */
export type TokenReply = z.infer<typeof tokenReply>;
/** What {@link newTokenReply} reads. */
export type NewTokenReply = z.infer<typeof newTokenReply>;
/** What {@link auditReply} reads. */
export type AuditReply = z.infer<typeof auditReply>;

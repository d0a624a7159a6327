/** Requests and replies about who may in. */
import { z } from 'zod';

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

export const signInRequest = z.strictObject({ passphrase: z.string().min(1, 'Give the passphrase.').max(1000) });

export const tokenRequest = z.strictObject({
  name: z
    .string()
    .trim()
    .min(1, 'Give it a name.')
    .max(80, 'A name has at most 80 letters.')
    .regex(/^[^\p{Cc}]*$/u, 'A name has no control characters.'),
  role: z.enum(['edit', 'review', 'worker']),
});

export const tokenReply = z.object({
  id: z.int(),
  name: z.string(),
  role: z.enum(['edit', 'review', 'worker']),
  created: z.string(),
  lastUsed: z.string().nullable(),
});

/** The one time that a token's secret is told. */
export const newTokenReply = tokenReply.extend({ secret: z.string() });

export const auditReply = z.array(z.object({ id: z.int(), time: z.string(), who: z.string(), what: z.string(), detail: z.string() }));

export type SessionReply = z.infer<typeof sessionReply>;
export type TokenReply = z.infer<typeof tokenReply>;
export type NewTokenReply = z.infer<typeof newTokenReply>;
export type AuditReply = z.infer<typeof auditReply>;

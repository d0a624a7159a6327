/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  accessTokens: 'Access tokens',
  name: 'Name',
  eGRenderScript: 'e.g. render script',
  role: 'Role',
  createToken: 'Create token',
  authorizationBearer: 'Authorization: Bearer …',
  created: 'Created',
  lastUsed: 'Last used',
  action: 'Action',
  revoke: 'Revoke',
  auditLog: 'Audit log',
  entries: 'Entries',
  allProjects: 'All projects',
  coldEasel: 'Cold Easel',
  access: 'Access',
  signOut: 'Sign out',
  signOutEverywhere: 'Sign out everywhere',
  passphrase: 'Passphrase',
  signIn: 'Sign in',
  tryAgain: 'Try again',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  role: 'What a program with this token may do.',
  thisNeedsThePassphrase: 'This needs the passphrase.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  editPlanRenderAnd: 'edit: plan, render and hand over',
  reviewReadOnly: 'review: read only',
  workerReadWhatRendering: 'worker: read what rendering needs',
  tokenCopyItNow: (name: string) => `Token “${name}”. Copy it now; it is not shown again. Programs send it as`,
  noTokensYet: 'No tokens yet.',
  nothingYetSignIns: 'Nothing yet. Sign-ins, tokens, deletions and restores are listed here.',
  aPassphraseIsSet: 'A passphrase is set. Everyone who opens this server signs in with it.',
  onlyThisMachineCan: 'Only this machine can reach the server, so no passphrase is asked for. To require one, run “easel passphrase”.',
  tokensCannotManageAccess: 'Tokens cannot manage access.',
  askWhoeverRunsThis: 'Ask whoever runs this server for the passphrase.',
} satisfies WordTable;

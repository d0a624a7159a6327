/** What the server is told by its environment: one schema, so that a wrong value is named before anything starts. */
import path from 'node:path';
import * as z from 'zod';

const MB = 2 ** 20;
const GB = 2 ** 30;

const whole = (least: number, most: number, standard: number) => z.coerce.number().int().min(least).max(most).default(standard);
const HOST_NAME = /^(?=.{1,253}$)[a-z0-9]([a-z0-9.-]*[a-z0-9])?$/i;

const hostNames = z
  .string()
  .default('')
  .transform((text) =>
    text
      .split(',')
      .map((n) => n.trim().toLowerCase())
      .filter((n) => n !== ''),
  )
  .refine((names) => names.every((n) => HOST_NAME.test(n)), 'give host names separated by commas, without "http://", port or path.');

const environment = z.object({
  PORT: whole(0, 65_535, 4870),
  COLD_EASEL_DATA: z.string().min(1).optional(),
  COLD_EASEL_ADDRESS: z.union([z.ipv4(), z.ipv6(), z.literal('localhost')], 'give an IP address such as 127.0.0.1 or 0.0.0.0.').default('127.0.0.1'),
  COLD_EASEL_HOSTS: hostNames,
  COLD_EASEL_HOOK: z.string().max(2000).optional(),
  COLD_EASEL_HOOK_HOSTS: hostNames,
  COLD_EASEL_LOG: z.enum(['error', 'warn', 'info', 'debug', 'silent']).default('info'),
  COLD_EASEL_WORKERS: z.coerce.number().int().min(1).max(256).optional(),
  COLD_EASEL_PASSPHRASE: z.string().min(12, 'a passphrase has at least 12 characters.').max(1000).optional(),
  COLD_EASEL_TRUST_PROXY: z.enum(['0', '1']).default('0'),
  COLD_EASEL_RESERVE_MB: whole(0, 1_000_000, 512),
  COLD_EASEL_ORIGINALS_GB: z.coerce.number().min(0).max(100_000).default(20),
  /** Heeded by engine/node/memoryBudget.ts; here only so that a wrong value is named. */
  COLD_EASEL_FRAMES_MB: z.coerce.number().min(1).max(10_000_000).optional(),
  COLD_EASEL_MASTERS_GB: z.coerce.number().min(0).max(100_000).default(20),
  COLD_EASEL_RETRY_SECONDS: z.coerce.number().min(0.01).max(60).default(2),
  COLD_EASEL_TRASH_DAYS: whole(1, 3650, 30),
  COLD_EASEL_THUMBNAIL_SAMPLES: whole(1, 1024, 12),
  COLD_EASEL_DEMO: z.string().optional(),
});

/** Settings of the server, as the environment gives them. */
export interface ServerConfig {
  /** Absolute path of the data folder. */
  data: string;
  port: number;
  /** Address to listen on. */
  address: string;
  /** Host names that the server answers to, beside this machine's own. */
  hosts: string[];
  logLevel: string;
  /** Tracing threads; one a core where undefined. */
  workers?: number;
  /** Sets the passphrase at start. */
  passphrase?: string;
  /** TLS ends at a proxy in front: its X-Forwarded-For and X-Forwarded-Proto are believed. */
  trustProxy: boolean;
  /** Bytes of disk that a batch leaves free. */
  reserveBytes: number;
  /** Bytes of files kept as they were uploaded. */
  originalsBytes: number;
  /** Bytes of linear light of finished frames that are kept; 0 for none. */
  mastersBytes: number;
  /** Seconds before a batch is first tried again after the disk or the database failed; the pause doubles up to a minute. */
  retrySeconds: number;
  /** Days for which the trash keeps what was moved there. */
  trashDays: number;
  /** Samples a pixel of thumbnails; half of that in strips. */
  thumbnailSamples: number;
  demo: boolean;
  /** Called with the report of each batch that ends: an address, or a command line; null for nothing. */
  hook: string | null;
  /** Other machines to which reports and packages may be sent. */
  hookHosts: string[];
}

/** Whether the hook is an address, not a command line. */
export const isHookAddress = (hook: string): boolean => /^https?:\/\//i.test(hook);

/** The host of an address, where nothing may be sent to it: null of this machine and of those named. */
export function refusedHost(address: string, hosts: readonly string[]): string | null {
  const host = new URL(address).hostname.toLowerCase().replace(/^\[|\]$/g, '');
  return isLoopback(host) || hosts.includes(host) ? null : host;
}

/** Throws an Error where the hook is an address of a host that is not allowed. */
function checkHook(hook: string, hosts: readonly string[]): void {
  if (!isHookAddress(hook)) return;
  if (!URL.canParse(hook)) throw new Error(`COLD_EASEL_HOOK=${hook}: give an address such as http://localhost:8080/done, or a command line.`);
  const host = refusedHost(hook, hosts);
  if (host === null) return;
  throw new Error(`COLD_EASEL_HOOK=${hook}: "${host}" is another machine. Name it in COLD_EASEL_HOOK_HOSTS to allow reports to be sent there.`);
}

/**
 * Reads the configuration. `args` are those of the command: `--trust-proxy` alone is known.
 * Throws an Error with a line for each value that is wrong.
 */
export function readConfig(env: Readonly<Record<string, string | undefined>>, root: string, args: readonly string[] = []): ServerConfig {
  const unknown = args.find((a) => a !== '--trust-proxy');
  if (unknown !== undefined) throw new Error(`"${unknown}" is not an option of the server; there is --trust-proxy.`);
  // An empty variable counts as one that is not set.
  const given = Object.fromEntries(Object.entries(env).filter(([, v]) => v !== undefined && v !== ''));
  const result = environment.safeParse(given);
  if (!result.success)
    throw new Error(result.error.issues.map((i) => `${String(i.path[0])}=${String(given[String(i.path[0])])}: ${i.message}`).join('\n'));
  const e = result.data;
  if (e.COLD_EASEL_HOOK !== undefined) checkHook(e.COLD_EASEL_HOOK, e.COLD_EASEL_HOOK_HOSTS);
  return {
    data: path.resolve(e.COLD_EASEL_DATA ?? path.join(root, 'data')),
    port: e.PORT,
    address: e.COLD_EASEL_ADDRESS === 'localhost' ? '127.0.0.1' : e.COLD_EASEL_ADDRESS,
    hosts: e.COLD_EASEL_HOSTS,
    logLevel: e.COLD_EASEL_LOG,
    ...(e.COLD_EASEL_WORKERS !== undefined && { workers: e.COLD_EASEL_WORKERS }),
    ...(e.COLD_EASEL_PASSPHRASE !== undefined && { passphrase: e.COLD_EASEL_PASSPHRASE }),
    trustProxy: e.COLD_EASEL_TRUST_PROXY === '1' || args.includes('--trust-proxy'),
    reserveBytes: e.COLD_EASEL_RESERVE_MB * MB,
    originalsBytes: e.COLD_EASEL_ORIGINALS_GB * GB,
    mastersBytes: e.COLD_EASEL_MASTERS_GB * GB,
    retrySeconds: e.COLD_EASEL_RETRY_SECONDS,
    trashDays: e.COLD_EASEL_TRASH_DAYS,
    thumbnailSamples: e.COLD_EASEL_THUMBNAIL_SAMPLES,
    demo: Boolean(e.COLD_EASEL_DEMO),
    hook: e.COLD_EASEL_HOOK ?? null,
    hookHosts: e.COLD_EASEL_HOOK_HOSTS,
  };
}

/** Whether an address is this machine's own and no other can reach it. */
export function isLoopback(address: string): boolean {
  return /^127\./.test(address) || address === '::1' || /^::ffff:127\./.test(address) || address === 'localhost';
}

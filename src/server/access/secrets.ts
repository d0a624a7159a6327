/** Passphrases and tokens: how they are made, kept and compared. None is ever kept as it is. */
import { createHash, randomBytes, scrypt, timingSafeEqual } from 'node:crypto';

/** Cost of scrypt: N = 2^15, r = 8, p = 1 takes 32 MB and some tens of milliseconds (RFC 7914; parameters as OWASP advises for interactive use). */
const COST = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 2 ** 20 };
const KEY_BYTES = 32;
const SALT_BYTES = 16;
/** Shortest and longest passphrase, in characters. */
export const MIN_PASSPHRASE = 12;
/** Characters of a passphrase at most. */
export const MAX_PASSPHRASE = 1000;

function derive(passphrase: string, salt: Buffer, cost: typeof COST): Promise<Buffer> {
  return new Promise((resolve, reject) =>
    // Composed and decomposed letters are the same letters.
    scrypt(passphrase.normalize('NFKC'), salt, KEY_BYTES, cost, (e, key) => (e ? reject(e) : resolve(key))),
  );
}

/** What is kept of a passphrase: `scrypt:N:r:p:salt:key`, in base64url. */
export async function hashPassphrase(passphrase: string): Promise<string> {
  const salt = randomBytes(SALT_BYTES);
  const key = await derive(passphrase, salt, COST);
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), key.toString('base64url')].join(':');
}

/** Whether a passphrase is the one of which that is kept. */
export async function checkPassphrase(passphrase: string, kept: string): Promise<boolean> {
  const [kind, N, r, p, salt, key] = kept.split(':');
  if (kind !== 'scrypt' || !salt || !key || passphrase.length > MAX_PASSPHRASE) return false;
  const expected = Buffer.from(key, 'base64url');
  const found = await derive(passphrase, Buffer.from(salt, 'base64url'), { ...COST, N: Number(N), r: Number(r), p: Number(p) });
  return expected.length === found.length && timingSafeEqual(expected, found);
}

/** A secret that cannot be guessed: 256 bits in base64url. */
export const newSecret = (): string => randomBytes(32).toString('base64url');

/** What is kept of a secret of ours: it is as random as its hash, so one round is enough. */
export const hashSecret = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/** Whether two texts are the same, in a time that does not tell where they differ. */
export function sameSecret(a: string, b: string): boolean {
  const [x, y] = [hashSecret(a), hashSecret(b)];
  return timingSafeEqual(Buffer.from(x), Buffer.from(y));
}

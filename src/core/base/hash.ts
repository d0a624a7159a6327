/** Hashes of values, whatever the order of their keys. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';

/** JSON with sorted keys, so that equal values give equal text. */
export function canonicalJson(value: unknown): string {
  // Most of what a plan hashes is numbers.
  if (typeof value === 'number') return Number.isFinite(value) ? String(Object.is(value, -0) ? 0 : value) : 'null';
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`;
  if (value !== null && typeof value === 'object') {
    let text = '';
    for (const key of Object.keys(value).sort()) {
      const own = (value as Record<string, unknown>)[key];
      if (own !== undefined) text += `${text === '' ? '' : ','}${JSON.stringify(key)}:${canonicalJson(own)}`;
    }
    return `{${text}}`;
  }
  return JSON.stringify(value);
}

/** The platform's own SHA-256, where it can be asked without importing it: it is many times as fast as one written in script. */
interface PlatformCrypto {
  createHash(name: 'sha256'): { update(text: string, encoding: 'utf8'): { digest(encoding: 'hex'): string } };
}
const { process } = globalThis as { process?: { getBuiltinModule?: (name: string) => PlatformCrypto | undefined } };
const platform = process?.getBuiltinModule?.('node:crypto');

/** SHA-256 of a text in UTF-8, in hexadecimal. */
export function sha256Text(text: string): string {
  return platform ? platform.createHash('sha256').update(text, 'utf8').digest('hex') : bytesToHex(sha256(utf8ToBytes(text)));
}

/** SHA-256 of a value's canonical JSON, 64 hexadecimal digits; equal for values that differ in the order of their keys alone. */
export function hashOf(value: unknown): string {
  return sha256Text(canonicalJson(value));
}

/** Growing delays after wrong passphrases, by the address that sent them. */

/** Wrong attempts without a delay. */
const FREE_ATTEMPTS = 3;
const LONGEST_SECONDS = 900;
/** Attempts are forgotten after so long without one. */
const FORGET_MS = 24 * 3_600_000;
const MAX_ADDRESSES = 10_000;

interface Attempts {
  count: number;
  last: number;
}

/** Makes an address wait longer after each wrong passphrase. */
export class SignInDelay {
  private readonly byAddress = new Map<string, Attempts>();

  /** Seconds that an address still has to wait. */
  secondsFor(address: string, now: number): number {
    const attempts = this.byAddress.get(address);
    if (!attempts || attempts.count <= FREE_ATTEMPTS) return 0;
    const delay = Math.min(LONGEST_SECONDS, 2 ** (attempts.count - FREE_ATTEMPTS));
    // A clock that was set back makes nobody wait for longer than is due.
    return Math.max(0, Math.min(delay, delay - (now - attempts.last) / 1000));
  }

  failed(address: string, now: number): void {
    const before = this.byAddress.get(address);
    const count = before && now - before.last < FORGET_MS ? before.count + 1 : 1;
    this.byAddress.delete(address);
    if (this.byAddress.size >= MAX_ADDRESSES) this.byAddress.delete(this.byAddress.keys().next().value!);
    this.byAddress.set(address, { count, last: now });
  }

  succeeded(address: string): void {
    this.byAddress.delete(address);
  }
}

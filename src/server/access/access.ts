/**
 * Who may in. On this machine alone nobody is asked, unless a passphrase is set; wherever others can reach the server one
 * must be. People sign in with it and get a session; programs have tokens with a role.
 */
import { Op } from 'sequelize';
import { type ServerConfig, isLoopback } from '../config.js';
import type { Database } from '../db/connection.js';
import { AuditEntry, Session, Setting, Token } from '../db/accessModels.js';
import { ServerError } from '../errors.js';
import { PASSPHRASE_KEY, passphraseProblem } from '../maintenance/passphrase.js';
import { checkPassphrase, hashPassphrase, hashSecret, newSecret, sameSecret } from './secrets.js';
import { SignInDelay } from './signInDelay.js';

/** What a token may be used for: everything but access itself, reading, or what a rendering machine needs. */
export const ROLES = ['edit', 'review', 'worker'] as const;
/** One of {@link ROLES}. */
export type Role = (typeof ROLES)[number];

/** Who asks. `owner` is whoever sits at this machine or knows the passphrase. */
export interface Caller {
  kind: 'local' | 'session' | 'token';
  role: Role | 'owner';
  /** For the audit log. */
  who: string;
  /** What requests that change something must send along, of a session. */
  csrf?: string;
  /** Kept id of the session. */
  session?: string;
}

const SESSION_DAYS = 30;
const DAY_MS = 86_400_000;
/** A session's last use is written down no more often. */
const TOUCH_MS = 3_600_000;
const MAX_TOKENS = 200;
const MAX_AUDIT = 10_000;
/** So many passphrases are compared at a time: each takes 32 MB. */
const MAX_COMPARING = 4;
const TOKEN_PREFIX = 'easel_';
const REFRESH_MS = 5000;

/** Whether others can reach the server: by its address, or through a proxy. */
export const isExposed = ({ address, trustProxy }: Pick<ServerConfig, 'address' | 'trustProxy'>): boolean => !isLoopback(address) || trustProxy;

/** Who may come in from elsewhere: by passphrase, and by a session kept in a cookie. */
export class Access {
  private passphrase: string | null = null;
  private comparing = 0;
  private readAt = 0;
  private readonly delay = new SignInDelay();

  constructor(
    private readonly database: Database,
    readonly exposed: boolean,
    private readonly now: () => number = Date.now,
  ) {}

  /**
   * Reads the passphrase, or sets the one that the configuration gives. Rejects with a sentence that names the ways where
   * others can reach the server and there is none.
   */
  async prepare({ passphrase, address }: Pick<ServerConfig, 'passphrase' | 'address'>): Promise<void> {
    this.passphrase = (await Setting.findByPk(PASSPHRASE_KEY))?.value ?? null;
    if (passphrase !== undefined && !(this.passphrase && (await checkPassphrase(passphrase, this.passphrase)))) {
      const problem = passphraseProblem(passphrase);
      if (problem) throw new Error(`COLD_EASEL_PASSPHRASE cannot be used. ${problem}`);
      this.passphrase = await hashPassphrase(passphrase);
      const value = this.passphrase;
      await this.database.write(async (transaction) => {
        await Setting.upsert({ key: PASSPHRASE_KEY, value }, { transaction });
        await Session.destroy({ where: {}, transaction });
      });
      await this.audit('configuration', 'passphrase set');
    }
    if (this.exposed && !this.passphrase)
      throw new Error(
        `Others could reach Cold Easel at ${address}, and no passphrase is set. Set one with "npm run easel -- passphrase" or in COLD_EASEL_PASSPHRASE, or listen on 127.0.0.1 alone.`,
      );
  }

  /** Whether whoever asks must say who they are. */
  get required(): boolean {
    return this.passphrase !== null;
  }

  /** Writes a line of the audit log, which keeps the latest ten thousand. */
  async audit(who: string, what: string, detail = ''): Promise<void> {
    const time = new Date(this.now()).toISOString();
    await this.database.write(async (transaction) => {
      const { id } = await AuditEntry.create({ time, who, what, detail: detail.slice(0, 500) }, { transaction });
      if (id % 100 === 0) await AuditEntry.destroy({ where: { id: { [Op.lte]: id - MAX_AUDIT } }, transaction });
    });
  }

  /** Reads the passphrase again now and then: the command line may have set it. */
  private async refresh(): Promise<void> {
    if (this.now() - this.readAt < REFRESH_MS && this.now() >= this.readAt) return;
    this.readAt = this.now();
    // A database that cannot be read for a moment lets nobody in who was not let in before.
    const kept = await Setting.findByPk(PASSPHRASE_KEY).catch(() => undefined);
    if (kept !== undefined) this.passphrase = kept?.value ?? null;
  }

  /** Who asks, by the cookie or the token that came along; null where it must be said and was not. */
  async identify({ cookie, bearer }: { cookie?: string | undefined; bearer?: string | undefined }): Promise<Caller | null> {
    await this.refresh();
    if (bearer !== undefined) return this.byToken(bearer);
    if (cookie !== undefined) {
      const caller = await this.bySession(cookie);
      if (caller) return caller;
    }
    return this.required ? null : { kind: 'local', role: 'owner', who: 'this machine' };
  }

  private async byToken(bearer: string): Promise<Caller | null> {
    const token = await Token.findOne({ where: { hash: hashSecret(bearer), revoked: null } });
    if (!token) return null;
    if (this.now() - Date.parse(token.lastUsed ?? token.created) > TOUCH_MS || !token.lastUsed) {
      const lastUsed = new Date(this.now()).toISOString();
      // That it was used is no reason to refuse it while the database is busy.
      this.database.write((transaction) => Token.update({ lastUsed }, { where: { id: token.id }, transaction })).catch(() => undefined);
    }
    return { kind: 'token', role: token.role as Role, who: `token ${token.name}` };
  }

  private async bySession(cookie: string): Promise<Caller | null> {
    const id = hashSecret(cookie);
    const session = await Session.findByPk(id);
    if (!session || Date.parse(session.expires) < this.now()) return null;
    if (this.now() - Date.parse(session.lastUsed) > TOUCH_MS) {
      const [lastUsed, expires] = [this.now(), this.now() + SESSION_DAYS * DAY_MS].map((t) => new Date(t).toISOString()) as [string, string];
      this.database.write((transaction) => Session.update({ lastUsed, expires }, { where: { id }, transaction })).catch(() => undefined);
    }
    return { kind: 'session', role: 'owner', who: 'signed in', csrf: session.csrf, session: id };
  }

  /** Throws ServerError where a session's request to change something did not come from its own page. */
  checkCsrf({ csrf }: Caller, sent: string | undefined): void {
    if (csrf !== undefined && (sent === undefined || !sameSecret(csrf, sent)))
      throw new ServerError('forbidden', 'The request did not come from a page of this server: it has no valid x-csrf-token.');
  }

  /**
   * Signs in; returns the secret for the cookie and its seconds. Rejects with ServerError: `signed-out` where the passphrase
   * is wrong, `too-many-attempts` with the seconds to wait where it was too often.
   * @param from address that asks, by which wrong attempts are counted.
   */
  async signIn(passphrase: string, from: string): Promise<{ secret: string; seconds: number }> {
    const wait = this.delay.secondsFor(from, this.now());
    if (wait > 0) throw new ServerError('too-many-attempts', `Too many wrong passphrases. Wait ${Math.ceil(wait)} seconds.`, wait);
    if (this.comparing >= MAX_COMPARING) throw new ServerError('overloaded', 'Several people sign in at this moment.', 1);
    this.comparing++;
    try {
      if (!this.passphrase || !(await checkPassphrase(passphrase, this.passphrase))) {
        this.delay.failed(from, this.now());
        await this.audit(from, 'sign-in refused');
        throw new ServerError('signed-out', 'The passphrase is wrong.');
      }
    } finally {
      this.comparing--;
    }
    this.delay.succeeded(from);
    const secret = newSecret();
    const [created, expires] = [this.now(), this.now() + SESSION_DAYS * DAY_MS].map((t) => new Date(t).toISOString()) as [string, string];
    await this.database.write(async (transaction) => {
      await Session.destroy({ where: { expires: { [Op.lt]: created } }, transaction });
      await Session.create({ id: hashSecret(secret), csrf: newSecret(), created, lastUsed: created, expires }, { transaction });
    });
    await this.audit(from, 'signed in');
    return { secret, seconds: SESSION_DAYS * 86_400 };
  }

  async signOut({ session, who }: Caller): Promise<void> {
    if (session === undefined) return;
    await this.database.write((transaction) => Session.destroy({ where: { id: session }, transaction }));
    await this.audit(who, 'signed out');
  }

  /** Ends every session, one's own too; returns how many there were. */
  async signOutEverywhere(who: string): Promise<number> {
    const count = await this.database.write((transaction) => Session.destroy({ where: {}, transaction }));
    await this.audit(who, 'signed out everywhere', `${count} sessions`);
    return count;
  }

  /** Makes a token; its secret is told this once. Rejects with ServerError where the name is taken or there are too many. */
  async createToken(name: string, role: Role, who: string): Promise<{ token: Token; secret: string }> {
    const secret = TOKEN_PREFIX + newSecret();
    const created = new Date(this.now()).toISOString();
    const token = await this.database.write(async (transaction) => {
      if (await Token.findOne({ where: { name, revoked: null }, transaction }))
        throw new ServerError('conflict', `There is a token "${name}" already. Choose another name, or revoke that one.`);
      if ((await Token.count({ where: { revoked: null }, transaction })) >= MAX_TOKENS)
        throw new ServerError('unusable', `There are ${MAX_TOKENS} tokens, which is the most. Revoke one first.`);
      // The name of one that was revoked is free again.
      await Token.destroy({ where: { name, revoked: { [Op.ne]: null } }, transaction });
      return Token.create({ name, role, hash: hashSecret(secret), created }, { transaction });
    });
    await this.audit(who, 'token created', `${name}, ${role}`);
    return { token, secret };
  }

  async revokeToken(id: number, who: string): Promise<void> {
    const revoked = new Date(this.now()).toISOString();
    const token = await Token.findByPk(id);
    if (!token || token.revoked) throw new ServerError('not-found', `Token ${id} does not exist; it may have been revoked.`);
    await this.database.write((transaction) => Token.update({ revoked }, { where: { id }, transaction }));
    await this.audit(who, 'token revoked', token.name);
  }
}

/** Review pages: others look at renders by an address that cannot be guessed, until a day, with a passphrase where one is set. */
import { createHmac } from 'node:crypto';
import type * as z from 'zod';
import { MAX_PAGE_DAYS, type newReviewPage, type ReviewPageReply, type ShownRender } from '../../contract/reviewPages.js';
import { checkPassphrase, hashPassphrase, newSecret, sameSecret } from '../access/secrets.js';
import { SignInDelay } from '../access/signInDelay.js';
import type { ServerContext } from '../context.js';
import { ReviewPage } from '../db/reviewModels.js';
import { notFound, ServerError } from '../errors.js';

/** Pages of one set that are kept. */
const MAX_PAGES = 200;
/** So many passphrases are compared at a time: each takes 32 MB. */
const MAX_COMPARING = 4;
const DAY_MS = 86_400_000;

/** The renders that the page shows. */
export const shownOf = ({ shown }: ReviewPage): ShownRender[] => JSON.parse(shown) as ShownRender[];

/** Whether the day is over everywhere that counts: by UTC. */
const isOver = (ends: string, now: number): boolean => now >= Date.parse(`${ends}T00:00:00Z`) + DAY_MS;

/** Pages for those who judge from elsewhere: made, opened, and revoked. */
export class ReviewPages {
  private readonly delay = new SignInDelay();
  private comparing = 0;

  constructor(
    private readonly context: ServerContext,
    private readonly now: () => number = Date.now,
  ) {}

  reply = (page: ReviewPage): ReviewPageReply => ({
    id: page.id,
    name: page.name,
    path: `/shared/${page.secret}`,
    renders: shownOf(page).length,
    ends: page.ends,
    open: page.revoked === null && !isOver(page.ends, this.now()),
    passphrase: page.passphrase !== null,
    created: page.created,
    opened: page.opened,
    lastOpened: page.lastOpened,
  });

  /** Pages of a set that were not revoked, the newest first. */
  async list(setId: number): Promise<ReviewPageReply[]> {
    return (await ReviewPage.findAll({ where: { setId, revoked: null }, order: [['id', 'DESC']] })).map(this.reply);
  }

  /** Makes one. Throws ServerError where it would end in the past or too late, or there are too many. */
  async create(setId: number, { name, shown, ends, passphrase }: z.infer<typeof newReviewPage>, who: string): Promise<ReviewPageReply> {
    const now = this.now();
    if (isOver(ends, now)) throw new ServerError('invalid-input', `${ends} is over. Choose a last day from today on.`);
    if (Date.parse(ends) > now + MAX_PAGE_DAYS * DAY_MS)
      throw new ServerError('invalid-input', `${ends} is more than ${MAX_PAGE_DAYS} days away. Choose an earlier last day.`);
    if ((await ReviewPage.count({ where: { setId, revoked: null } })) >= MAX_PAGES)
      throw new ServerError('unusable', `This set has ${MAX_PAGES} review pages, which is the most. Revoke one first.`);
    const page = {
      setId,
      name,
      secret: newSecret(),
      shown: JSON.stringify(shown),
      ends,
      passphrase: passphrase === undefined ? null : await hashPassphrase(passphrase),
      created: new Date(now).toISOString(),
    };
    const made = await this.context.database.write((transaction) => ReviewPage.create(page, { transaction }));
    await this.context.access.audit(who, 'review page made', name);
    return this.reply(await made.reload());
  }

  /** Closes one for ever. */
  async revoke(id: number, who: string): Promise<ReviewPage> {
    const page = await ReviewPage.findByPk(id);
    if (!page || page.revoked !== null) throw notFound(`Review page ${id}`);
    page.revoked = new Date(this.now()).toISOString();
    await this.context.database.write((transaction) => page.save({ transaction, fields: ['revoked'] }));
    await this.context.access.audit(who, 'review page revoked', page.name);
    return page;
  }

  /**
   * The page of an address. Throws ServerError: 'not-found' where there is none, it has ended or was revoked, which is not
   * told apart; 'signed-out' where it asks for a passphrase and `proof` is not what `unlock` gave.
   */
  async open(secret: string, proof: string | undefined): Promise<ReviewPage> {
    const page = await this.find(secret);
    if (page.passphrase !== null && (proof === undefined || !sameSecret(proof, proofOf(page))))
      throw new ServerError('signed-out', 'This review page asks for a passphrase.');
    return page;
  }

  /** What a browser shows from then on; rejects as `open`, and 'too-many-attempts'. @param from address that asks. */
  async unlock(secret: string, passphrase: string, from: string): Promise<string> {
    const page = await this.find(secret);
    const who = `${page.id} ${from}`;
    const wait = this.delay.secondsFor(who, this.now());
    if (wait > 0) throw new ServerError('too-many-attempts', `Too many wrong passphrases. Wait ${Math.ceil(wait)} seconds.`, wait);
    if (this.comparing >= MAX_COMPARING) throw new ServerError('overloaded', 'Several people sign in at this moment.', 1);
    this.comparing++;
    try {
      if (page.passphrase === null || !(await checkPassphrase(passphrase, page.passphrase))) {
        this.delay.failed(who, this.now());
        throw new ServerError('signed-out', 'The passphrase is wrong.');
      }
    } finally {
      this.comparing--;
    }
    this.delay.succeeded(who);
    return proofOf(page);
  }

  /** Counts that somebody opened it. */
  async noteOpened(page: ReviewPage): Promise<void> {
    page.set({ opened: page.opened + 1, lastOpened: new Date(this.now()).toISOString() });
    // It is shown all the same while the database is busy.
    await this.context.database.write((transaction) => page.save({ transaction, fields: ['opened', 'lastOpened'] })).catch(() => undefined);
  }

  private async find(secret: string): Promise<ReviewPage> {
    const page = await ReviewPage.findOne({ where: { secret, revoked: null } });
    if (!page || isOver(page.ends, this.now()))
      throw new ServerError('not-found', 'There is no review page at this address: it has ended, or was revoked. Ask who sent it to you.');
    return page;
  }
}

/** Nobody can make it who does not know what is kept of the passphrase. */
const proofOf = ({ passphrase, secret }: ReviewPage): string => createHmac('sha256', passphrase!).update(secret).digest('base64url');

/** Signing in and out, tokens, the audit log; and the handler that lets nobody else in. */
import type { Request, RequestHandler, Response, Router } from 'express';
import {
  auditReply,
  type AuditReply,
  type NewTokenReply,
  signInRequest,
  type SessionReply,
  tokenRequest,
  type TokenReply,
} from '../../contract/access.js';
import type { Caller } from '../access/access.js';
import type { ServerContext } from '../context.js';
import { AuditEntry, Token } from '../db/accessModels.js';
import { ServerError } from '../errors.js';
import { idOf, parse } from './params.js';

const COOKIE = 'easel_session';

/** What anybody may ask, so that they can sign in at all. */
const OPEN = new Set(['GET /session', 'POST /session', 'GET /health']);
/** What a rendering machine reads. */
const WORKER_PATHS = /^\/(kernel\.wasm|models\/[0-9a-f]{64}\/scene|textures\/[^/]+|environments\/[^/]+)$/;
const AUDIT_LINES = 500;

/** The value of one cookie; cookies have no blanks or semicolons in them (RFC 6265). */
export function cookieOf(request: Request, name: string): string | undefined {
  for (const pair of (request.headers.cookie ?? '').split(';')) {
    const [key, value] = pair.trim().split('=', 2);
    if (key === name && value) return value;
  }
  return undefined;
}

function callerOf(response: Response): Caller {
  return response.locals.caller as Caller;
}

/** Throws ServerError where a role may not do what is asked. */
function checkRole({ role, who }: Caller, method: string, path: string): void {
  const reads = method === 'GET' || method === 'HEAD';
  const may = role === 'owner' || role === 'edit' || (role === 'review' && reads) || (role === 'worker' && reads && WORKER_PATHS.test(path));
  if (!may) throw new ServerError('forbidden', `The role of this ${who} is "${role}", which may not do this.`);
}

/** Lets only those through who may in, and notes who it is. */
export function authenticate({ access }: ServerContext): RequestHandler {
  return async (request, response, next) => {
    const bearer = /^Bearer (\S+)$/i.exec(request.headers.authorization ?? '')?.[1];
    const caller = await access.identify({ cookie: cookieOf(request, COOKIE), bearer });
    response.locals.caller = caller;
    if (OPEN.has(`${request.method} ${request.path}`)) {
      next();
      return;
    }
    if (!caller)
      throw new ServerError(
        'signed-out',
        bearer === undefined ? 'You are not signed in.' : 'The access token is not valid; it may have been revoked.',
      );
    checkRole(caller, request.method, request.path);
    if (request.method !== 'GET' && request.method !== 'HEAD') access.checkCsrf(caller, request.get('x-csrf-token'));
    next();
  };
}

/** Routes of passphrase and sessions. */
export function accessRoutes(api: Router, { access, config }: ServerContext): void {
  /** Access itself is for whoever sits here or knows the passphrase. */
  const owner = (response: Response): Caller => {
    const caller = callerOf(response);
    if (caller.role !== 'owner') throw new ServerError('forbidden', 'Tokens cannot manage access; sign in with the passphrase.');
    return caller;
  };
  const describe = ({ id, name, role, created, lastUsed }: Token): TokenReply => ({
    id,
    name,
    role: role as TokenReply['role'],
    created,
    lastUsed: lastUsed ?? null,
  });
  const setCookie = (request: Request, response: Response, value: string, maxAge: number): void => {
    response.cookie(COOKIE, value, {
      httpOnly: true,
      sameSite: 'strict',
      path: '/',
      maxAge: maxAge * 1000,
      secure: config.trustProxy && request.secure,
    });
  };

  api.get('/session', (_request, response) => {
    const caller = response.locals.caller as Caller | null;
    response.json({
      required: access.required,
      signedIn: caller !== null,
      ...(caller && { kind: caller.kind, role: caller.role }),
      ...(caller?.csrf !== undefined && { csrf: caller.csrf }),
      exposed: access.exposed,
    } satisfies SessionReply);
  });
  api.post('/session', async (request, response) => {
    if (!access.required) throw new ServerError('conflict', 'No passphrase is set, so there is nothing to sign in to.');
    const { secret, seconds } = await access.signIn(parse(signInRequest, request.body).passphrase, request.ip ?? 'unknown');
    setCookie(request, response, secret, seconds);
    response.status(201).json({});
  });
  api.delete('/session', async (request, response) => {
    await access.signOut(callerOf(response));
    setCookie(request, response, '', 0);
    response.json({});
  });
  api.delete('/sessions', async (request, response) => {
    const count = await access.signOutEverywhere(owner(response).who);
    setCookie(request, response, '', 0);
    response.json({ count });
  });
  api.get('/tokens', async (_request, response) => {
    owner(response);
    response.json((await Token.findAll({ where: { revoked: null }, order: ['name'] })).map(describe));
  });
  api.post('/tokens', async (request, response) => {
    const { name, role } = parse(tokenRequest, request.body);
    const { token, secret } = await access.createToken(name, role, owner(response).who);
    response.status(201).json({ ...describe(token), secret } satisfies NewTokenReply);
  });
  api.delete('/tokens/:id', async (request, response) => {
    await access.revokeToken(idOf(request.params.id, 'token'), owner(response).who);
    response.json({});
  });
  api.get('/audit', async (_request, response) => {
    owner(response);
    const lines = await AuditEntry.findAll({ order: [['id', 'DESC']], limit: AUDIT_LINES, raw: true });
    response.json(auditReply.parse(lines) satisfies AuditReply);
  });
}

/** Calls of a running server, for the commands that drive one. */
import { createWriteStream, existsSync } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Option } from 'commander';
import type { Problem } from '../contract/contract.js';
import type { ReplyOf, Route } from '../contract/routes/index.js';
import { InputError } from './command.js';

/** Address of the server that is driven. */
export interface ServerOption {
  server: string;
}

/** `--server`; a token for one that asks people to sign in is taken from the environment, where other users do not see it. */
export const serverOption = (): Option =>
  new Option('--server <url>', 'address of the running server; COLD_EASEL_TOKEN holds a token where it asks for one')
    .env('COLD_EASEL_SERVER')
    .default('http://localhost:4870');

/** Sends a request. Throws InputError where the address is none, and Error where nobody answers there. */
async function ask(server: string, route: string, init: RequestInit): Promise<Response> {
  const token = process.env.COLD_EASEL_TOKEN;
  try {
    return await fetch(new URL(`/api${route}`, server), {
      ...init,
      headers: { ...init.headers, ...(token && { authorization: `Bearer ${token}` }) },
    });
  } catch (e) {
    if (e instanceof TypeError && !URL.canParse(server))
      throw new InputError(`--server: "${server}" is no address; write it as http://localhost:4870.`);
    throw new Error(`No server answers at ${server}. Start it with npm run demo or npm start, or give its address with --server.`);
  }
}

/** Why a request was refused: InputError where what was asked is wrong. */
function refusal(server: string, status: number, text: string): Error {
  let problem: Partial<Problem>;
  try {
    problem = JSON.parse(text) as Problem;
  } catch {
    problem = {};
  }
  const message = `${problem.detail ?? `${server} answers ${status}.`}${problem.remedy && !problem.detail?.includes(problem.remedy) ? `\n${problem.remedy}` : ''}`;
  return status < 500 ? new InputError(message) : new Error(message);
}

/** What a request says beside its route. */
interface Request {
  /** In the address, by the names that the route has for them. */
  params?: Readonly<Record<string, string | number>>;
  query?: Readonly<Record<string, string>>;
  body?: object;
  headers?: Record<string, string>;
}

/** The address of a route below /api. */
function addressOf(route: Route, { params = {}, query }: Pick<Request, 'params' | 'query'>): string {
  const path = route.slice(route.indexOf(' ') + 1).replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(String(params[name])));
  return query ? `${path}?${new URLSearchParams(query).toString()}` : path;
}

/**
 * What the server answers, typed by the description of its interface. Throws InputError where it refuses what was asked, and Error
 * where it cannot be reached.
 */
export async function callServer<R extends Route>({ server }: ServerOption, route: R, request: Request = {}): Promise<ReplyOf<R>> {
  const { body, headers } = request;
  const init = {
    method: route.slice(0, route.indexOf(' ')),
    headers: { ...headers, ...(body && { 'content-type': 'application/json' }) },
    ...(body && { body: JSON.stringify(body) }),
  };
  const response = await ask(server, addressOf(route, request), init);
  const text = await response.text();
  if (!response.ok) throw refusal(server, response.status, text);
  return (text === '' ? undefined : JSON.parse(text)) as ReplyOf<R>;
}

/** Throws InputError where a file is there already: before anything is made that would be saved as it. */
export function refuseOverwriting(file: string): void {
  if (existsSync(file)) throw new InputError(`${file} exists and would be overwritten; choose another --out or remove it.`);
}

/** Saves what the server answers as a file, whole or not at all. Throws as callServer does. */
export async function saveFrom({ server }: ServerOption, route: Route, request: Pick<Request, 'params' | 'query'>, file: string): Promise<void> {
  const response = await ask(server, addressOf(route, request), {});
  if (!response.ok || !response.body) throw refusal(server, response.status, await response.text());
  await mkdir(path.dirname(path.resolve(file)), { recursive: true });
  const beside = `${file}.part`;
  try {
    await pipeline(Readable.fromWeb(response.body as Parameters<typeof Readable.fromWeb>[0]), createWriteStream(beside));
    await rename(beside, file);
  } catch (e) {
    await rm(beside, { force: true });
    throw e;
  }
}

/** Calls of a running server, for the commands that drive one. */
import { Option } from 'commander';
import type { Problem } from '../contract/contract.js';
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

/** What the server answers. Throws InputError where it refuses what was asked, and Error where it cannot be reached. */
export async function callServer<T>(
  { server }: ServerOption,
  method: 'GET' | 'POST' | 'PUT',
  route: string,
  body?: object,
  headers: Record<string, string> = {},
): Promise<T> {
  const token = process.env.COLD_EASEL_TOKEN;
  let response: Response;
  try {
    response = await fetch(new URL(`/api${route}`, server), {
      method,
      headers: { ...headers, ...(body && { 'content-type': 'application/json' }), ...(token && { authorization: `Bearer ${token}` }) },
      ...(body && { body: JSON.stringify(body) }),
    });
  } catch (e) {
    if (e instanceof TypeError && !URL.canParse(server))
      throw new InputError(`--server: "${server}" is no address; write it as http://localhost:4870.`);
    throw new Error(`No server answers at ${server}. Start it with npm run demo or npm start, or give its address with --server.`);
  }
  const text = await response.text();
  if (response.ok) return (text === '' ? undefined : JSON.parse(text)) as T;
  let problem: Partial<Problem>;
  try {
    problem = JSON.parse(text) as Problem;
  } catch {
    problem = {};
  }
  const message = `${problem.detail ?? `${server} answers ${response.status}.`}${problem.remedy && !problem.detail?.includes(problem.remedy) ? `\n${problem.remedy}` : ''}`;
  throw response.status < 500 ? new InputError(message) : new Error(message);
}

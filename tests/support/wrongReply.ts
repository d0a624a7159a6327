/** Holds replies of the server against the description of its interface. */
import * as z from 'zod';
import { ROUTES } from '../../src/contract/routes/index.js';
import type { RouteSpec } from '../../src/contract/routes/route.js';

/** What of a reply of success is not as its route says; nothing where all is. @param route as `GET /projects/:id`. */
export function wrongReply(route: string, status: number, body: unknown): string[] {
  if (status >= 400) return [];
  const spec = (ROUTES as Record<string, RouteSpec>)[route];
  if (!spec) return [`${route} is not described.`];
  const expected = spec.status ?? 200;
  // A start that was made before, under the same key, answers 200.
  if (status !== expected && !(route === 'POST /sets/:id/batches' && status === 200))
    return [`${route} answers ${status}, described is ${expected}.`];
  if (!(spec.reply instanceof z.ZodType)) return [`${route} answers JSON, described is ${spec.reply ?? 'nothing'}.`];
  const read = spec.reply.safeParse(body);
  return read.success ? [] : read.error.issues.slice(0, 3).map((i) => `${route}: ${i.path.join('.')}: ${i.message}`);
}

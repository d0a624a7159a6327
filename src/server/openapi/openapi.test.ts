/** The description of the HTTP interface, beside the routes that there really are and the replies that they give. */
import { Validator } from '@seriousme/openapi-schema-validator';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ServerHere } from '../../../tests/support/serverHere.js';
import { wrongReply } from '../../../tests/support/wrongReply.js';
import { ROUTES } from '../../contract/routes/index.js';
import type { RouteSpec } from '../../contract/routes/route.js';
import type { Deliveries } from '../handover/deliveries.js';
import type { Packages } from '../handover/packages.js';
import { createApp } from '../http/app.js';
import { openApiDocument } from './document.js';

const server = new ServerHere();
beforeAll(() => server.start());
afterAll(() => server.end());

interface Layer {
  route?: { path: string; methods: Record<string, boolean> };
  handle: { stack?: Layer[] };
}

/** Routes of a router, those of one within it with its address before them. */
const routesOf = (stack: Layer[], prefix = ''): string[] =>
  stack.flatMap(({ route, handle }) =>
    route
      ? Object.keys(route.methods).map((m) => `${m.toUpperCase()} ${prefix}${route.path}`)
      : handle.stack
        ? routesOf(handle.stack, '/shared')
        : [],
  );

describe('the description', () => {
  it('has every route that there is, and no other', () => {
    const { context, runner } = server.running;
    const app = createApp(context, runner, {} as Packages, {} as Deliveries) as unknown as { router: { stack: Layer[] } };
    const [api] = app.router.stack.filter((l) => l.handle.stack && l.handle.stack.length > 50);
    const real = routesOf(api!.handle.stack!);
    expect(real.length).toBeGreaterThan(120);
    expect(real.filter((r) => !(r in ROUTES))).toEqual([]);
    expect(Object.keys(ROUTES).filter((r) => !real.includes(r))).toEqual([]);
  });

  it('is OpenAPI 3.1 by the standard’s own schema, and has no reference that leads nowhere', async () => {
    const document = openApiDocument();
    const { valid, errors } = await new Validator().validate(structuredClone(document));
    expect([valid, errors]).toEqual([true, undefined]);
    const text = JSON.stringify(document);
    const { schemas } = document.components as { schemas: Record<string, unknown> };
    const named = [...text.matchAll(/"\$ref":"([^"]+)"/g)].map(([, ref]) => ref!.replace('#/components/schemas/', ''));
    expect(named.filter((name) => !(name in schemas))).toEqual([]);
    expect(named).toEqual(expect.arrayContaining(['batchReply', 'frameReply', 'projectReply', 'setFileInput', 'Problem']));
    const { paths } = document as { paths: Record<string, Record<string, { parameters?: { name: string; in: string }[]; requestBody?: object }>> };
    expect(paths['/sets/{id}/preflight']!.get!.parameters!.map((p) => p.name)).toEqual(['id', 'revision', 'select', 'variant']);
    // Whatever has a query tells what may stand in it.
    const asked = (Object.entries(ROUTES) as [string, RouteSpec][]).filter(([, spec]) => spec.query);
    expect(asked.length).toBeGreaterThan(25);
    for (const [route] of asked) {
      const [method, path] = route.split(' ') as [string, string];
      const { parameters = [] } = paths[path.replace(/:(\w+)/g, '{$1}')]![method.toLowerCase()]!;
      expect([route, parameters.some((p) => p.in === 'query')]).toEqual([route, true]);
    }
    expect(paths['/sets/{id}/batches']!.post!.requestBody).toEqual({
      required: true,
      content: { 'application/json': { schema: { $ref: '#/components/schemas/newBatchInput' } } },
    });
  });

  it('is served as JSON and as a page that any browser shows', async () => {
    const json = await server.call().get('/api/openapi.json').expect(200);
    expect((json.body as { openapi: string }).openapi).toBe('3.1.0');
    const { text, headers } = await server.call().get('/api/openapi.html').expect(200);
    expect(headers['content-security-policy']).toContain("default-src 'none'");
    expect(text.match(/<tr><td>/g)).toHaveLength(Object.keys(ROUTES).length);
    expect(text).toContain('<code>/api/sets/:id/batches</code>');
  });
});

it('a reply that is not as described is told', () => {
  expect(wrongReply('GET /projects', 200, [{ id: 'one' }])[0]).toMatch(/^GET \/projects: 0\.id: /);
  expect(wrongReply('GET /nowhere', 200, {})).toEqual(['GET /nowhere is not described.']);
  expect(wrongReply('POST /projects', 200, {})).toEqual(['POST /projects answers 200, described is 201.']);
  expect(wrongReply('GET /projects', 404, {})).toEqual([]);
});

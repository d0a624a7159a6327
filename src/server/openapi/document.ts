/** The HTTP interface as OpenAPI 3.1, made of the schemas that requests are read by and replies are typed by. */
import * as z from 'zod';
import * as access from '../../contract/access.js';
import * as batches from '../../contract/batches.js';
import * as contract from '../../contract/contract.js';
import * as notes from '../../contract/notes.js';
import * as packages from '../../contract/packages.js';
import * as presets from '../../contract/presets.js';
import * as queue from '../../contract/queue.js';
import * as results from '../../contract/results.js';
import * as reviewPages from '../../contract/reviewPages.js';
import { ROUTES } from '../../contract/routes/index.js';
import type { RouteSpec } from '../../contract/routes/route.js';
import { VERSION } from '../../core/base/application.js';
import { setSchema } from '../../core/plan/set.js';

type Json = Record<string, unknown>;

/** Schemas that are told once, under the names that they have here; those of queries are told with their routes. */
const NAMED: Readonly<Record<string, unknown>> = {
  ...access,
  ...batches,
  ...contract,
  ...notes,
  ...packages,
  ...presets,
  ...queue,
  ...results,
  ...reviewPages,
  setFile: setSchema,
};

function registryOfNames(): z.core.$ZodRegistry<{ id: string }> {
  const registry = z.registry<{ id: string }>();
  for (const [id, value] of Object.entries(NAMED))
    if (value instanceof z.ZodType && !/(Query|Options)$/.test(id) && !registry.has(value)) registry.add(value, { id });
  return registry;
}

/** What is sent has defaults that may be left out, what is answered has them all: a schema has another name in each direction. */
class Schemas {
  readonly components: Json = {};
  private readonly registry = registryOfNames();

  of(schema: z.ZodType, io: 'input' | 'output'): Json {
    const made = z.toJSONSchema(schema, { io, unrepresentable: 'any', metadata: this.registry, reused: 'inline' }) as Json;
    const { $schema: _, $defs = {}, id: _id, ...own } = this.named(made, io) as Json & { $defs?: Json };
    for (const [name, value] of Object.entries($defs)) {
      const { id: _own, ...shape } = value as Json;
      this.components[name + (io === 'input' ? 'Input' : '')] = shape;
    }
    return own;
  }

  /** References of zod's own document as references into the components. */
  private named(value: unknown, io: 'input' | 'output'): unknown {
    if (Array.isArray(value)) return value.map((v) => this.named(v, io));
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, v]) =>
        key === '$ref' && typeof v === 'string'
          ? [key, v.replace(/^#\/\$defs\/(.*)$/, (_, name: string) => `#/components/schemas/${name}${io === 'input' ? 'Input' : ''}`)]
          : [key, this.named(v, io)],
      ),
    );
  }
}

const PROBLEM = { $ref: '#/components/schemas/Problem' };
const FILES = {
  'multipart/form-data': {
    schema: { type: 'object', properties: { files: { type: 'array', items: { type: 'string', contentMediaType: 'application/octet-stream' } } } },
  },
};

function parametersOf(path: string, query: z.ZodType | undefined, schemas: Schemas): Json[] {
  const inPath = [...path.matchAll(/:(\w+)/g)].map(([, name]) => ({ name, in: 'path', required: true, schema: { type: 'string' } }));
  if (!query) return inPath;
  const { properties = {}, required = [] } = schemas.of(query, 'input') as { properties?: Json; required?: string[] };
  return [...inPath, ...Object.entries(properties).map(([name, schema]) => ({ name, in: 'query', required: required.includes(name), schema }))];
}

function replyOf({ reply, status }: RouteSpec, schemas: Schemas): Json {
  if (reply === undefined) return { 204: { description: 'Done' } };
  const content = typeof reply === 'string' ? { [reply]: {} } : { 'application/json': { schema: schemas.of(reply, 'output') } };
  return { [status ?? 200]: { description: 'Done', content } };
}

function operation(path: string, spec: RouteSpec, schemas: Schemas): Json {
  const { does, query, body } = spec;
  const parameters = parametersOf(path, query, schemas);
  const content = body === 'files' ? FILES : body && { 'application/json': { schema: schemas.of(body, 'input') } };
  return {
    summary: does,
    ...(parameters.length > 0 && { parameters }),
    ...(content && { requestBody: { required: true, content } }),
    responses: {
      ...replyOf(spec, schemas),
      default: { description: 'What is wrong, and what to do', content: { 'application/problem+json': { schema: PROBLEM } } },
    },
  };
}

/** The whole description. */
export function openApiDocument(): Json {
  const schemas = new Schemas();
  const paths: Record<string, Json> = {};
  for (const [route, spec] of Object.entries(ROUTES) as [string, RouteSpec][]) {
    const [method, path] = route.split(' ') as [string, string];
    const address = path.replace(/:(\w+)/g, '{$1}');
    (paths[address] ??= {})[method.toLowerCase()] = operation(path, spec, schemas);
  }
  schemas.components.Problem = schemas.of(contract.problemSchema, 'output');
  return {
    openapi: '3.1.0',
    info: { title: 'Cold Easel', version: VERSION, description: 'Plans, renders, judges and hands over batches of review renders.' },
    servers: [{ url: '/api' }],
    paths,
    components: { schemas: schemas.components },
  };
}

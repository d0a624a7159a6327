#!/usr/bin/env node
/**
 * A night's run over HTTP alone: a model file and a set file in, a package out that was read again and found whole.
 *
 *   node docs/examples/night-run.mjs MODEL SET OUT.zip [--unit mm] [--up z] [--project NAME] [--revise] [--key KEY]
 *
 * The server is COLD_EASEL_SERVER, http://localhost:4870 where that is not set; COLD_EASEL_TOKEN is sent where there is
 * one. A project and a set that are there by their names are taken as they are; --revise imports the model as the next
 * revision. Run again with the same key after it was cut off, it goes on with the batch that it started.
 * Exit codes: 0 the package is whole, 1 the run broke down, 2 wrong input, 3 faults before the run or in the package.
 */
import { openAsBlob } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';

const SERVER = process.env.COLD_EASEL_SERVER ?? 'http://localhost:4870';
const TOKEN = process.env.COLD_EASEL_TOKEN;
/** Seconds between questions, and how often a question is put again where the server is busy or away for a moment. */
const WAIT = 2;
const TRIES = 30;

class Stop extends Error {
  constructor(code, message) {
    super(message);
    this.code = code;
  }
}

const rest = (seconds) => new Promise((resolve) => setTimeout(resolve, seconds * 1000));
const say = (line) => process.stderr.write(`${new Date().toISOString().slice(11, 19)} ${line}\n`);

/** The reply to one request; put again where the server says that it may be, or does not answer. */
async function ask(method, route, { body, form, headers } = {}) {
  for (let attempt = 1; ; attempt++) {
    const response = await fetch(new URL(`/api${route}`, SERVER), {
      method,
      headers: { ...headers, ...(body && { 'content-type': 'application/json' }), ...(TOKEN && { authorization: `Bearer ${TOKEN}` }) },
      body: form ?? (body && JSON.stringify(body)),
    }).catch((e) => e);
    if (response instanceof Response && response.ok) return response;
    // What is sent again must be harmless: questions are, and a start under its key.
    const mayRepeat = method === 'GET' || headers?.['idempotency-key'] !== undefined;
    const busy = !(response instanceof Response) || [409, 429, 503].includes(response.status);
    if (busy && mayRepeat && attempt < TRIES) {
      await rest(response instanceof Response ? Number(response.headers.get('retry-after') ?? WAIT) : WAIT);
      continue;
    }
    if (!(response instanceof Response)) throw new Stop(1, `No server answers at ${SERVER}.`);
    const { detail = response.statusText } = await response.json().catch(() => ({}));
    throw new Stop(response.status < 500 ? 2 : 1, detail);
  }
}
const get = async (route) => (await ask('GET', route)).json();
const send = async (route, body, headers) => (await ask('POST', route, { body, headers })).json();

/** Asks again until it is over. */
async function until(route, isOver, told) {
  for (let last = ''; ; await rest(WAIT)) {
    const now = await get(route);
    const line = told(now);
    if (line !== last) say((last = line));
    if (isOver(now)) return now;
  }
}

/** The project of a name with a model; one that has a model already is taken as it is, unless it is to be revised. */
async function projectOf(name, model, { unit, up, revise }) {
  const known = (await get('/projects')).find((p) => p.name === name);
  if (known?.revisions.length > 0 && !revise) return known;
  const project = known ?? (await send('/projects', { name }));
  const form = new FormData();
  form.append('files', await openAsBlob(model), path.basename(model));
  const query = new URLSearchParams({ ...(unit && { unit }), ...(up && { up }) });
  return (await ask('POST', `/projects/${project.id}/model?${query}`, { form })).json();
}

async function run() {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: { unit: { type: 'string' }, up: { type: 'string' }, project: { type: 'string' }, revise: { type: 'boolean' }, key: { type: 'string' } },
  });
  const [model, setFile, out] = positionals;
  if (!out) throw new Stop(2, 'Give a model file, a set file and the archive to write: night-run.mjs MODEL SET OUT.zip');
  const file = JSON.parse(await readFile(setFile, 'utf8'));
  const name = values.project ?? path.parse(model).name;

  const project = await projectOf(name, model, values);
  const revision = project.revisions.at(-1);
  say(`${name}, revision ${revision.letter}: ${revision.triangles ?? '?'} triangles`);
  const set = project.sets.find((s) => s.name === file.name) ?? (await send(`/projects/${project.id}/sets`, { file }));

  const { findings } = await get(`/sets/${set.id}/preflight?revision=${revision.id}`);
  const faults = findings.filter((f) => f.severity === 'fault' && f.waived === undefined);
  for (const f of findings) say(`${f.severity}: ${f.message}`);
  if (faults.length > 0) throw new Stop(3, `${faults.length} faults would waste the run. Mend or waive them, then run this again.`);

  const key = values.key ?? `night-${set.id}-${revision.id}-${new Date().toISOString().slice(0, 10)}`;
  const started = await send(`/sets/${set.id}/batches`, { revision: revision.id }, { 'idempotency-key': key });
  const batch = await until(
    `/batches/${started.id}`,
    (b) => ['done', 'stopped', 'held'].includes(b.state),
    (b) => `batch ${b.number} ${b.state}: ${b.done} of ${b.total} frames`,
  );
  if (batch.state !== 'done' || batch.failed > 0) throw new Stop(1, `Batch ${batch.number} is ${batch.state}, ${batch.failed} frames failed.`);

  // Each shot once; a moving one has a movie too.
  const { frames } = await get(`/batches/${batch.id}/plan`);
  const runs = [...new Set(frames.map((f) => f.shot))];
  const moving = file.shots.filter((s) => s.kind !== 'still' && runs.includes(s.id)).map((s) => s.id);
  for (const shot of moving) if (!batch.clips.some((c) => c.shot === shot)) await send(`/batches/${batch.id}/clips`, { shot });
  const made = await until(
    `/batches/${batch.id}`,
    (b) => b.clips.every((c) => ['ready', 'failed', 'stopped'].includes(c.state)),
    (b) => `${b.clips.filter((c) => c.state === 'ready').length} of ${b.clips.length} movies`,
  );
  const failed = made.clips.find((c) => c.state !== 'ready');
  if (failed) throw new Stop(1, `A movie is ${failed.state}: ${failed.message ?? ''}`);

  const begun = await send(`/sets/${set.id}/packages`, {
    name,
    renders: runs.map((shot) => ({ batch: batch.id, run: shot })),
    sheet: { paper: 'A3', across: true, columns: 4 },
  });
  const whole = await until(
    `/packages/${begun.id}`,
    (p) => p.state !== 'making',
    (p) => `package ${p.state}: ${p.files} files`,
  );
  for (const f of whole.faults) say(`${f.rule}: ${f.file}: ${f.found}, not ${f.expected}`);
  if (whole.state === 'failed') throw new Stop(1, whole.message);
  if (whole.state !== 'ready') throw new Stop(3, `The package has ${whole.faults.length} faults.`);
  const archive = Buffer.from(await (await ask('GET', `/packages/${whole.id}/download`)).arrayBuffer());
  await writeFile(out, archive);
  say(`${out}: ${archive.length} bytes`);
  return { project: project.id, set: set.id, batch: batch.id, package: whole.id, files: whole.files, bytes: archive.length };
}

try {
  process.stdout.write(`${JSON.stringify(await run())}\n`);
} catch (e) {
  say(e.message);
  process.exitCode = e instanceof Stop ? e.code : e.code === 'ENOENT' || e instanceof SyntaxError ? 2 : 1;
}

/** `easel batch …`: starts, follows and steers batches of a running server. Batches are named by their number. */
import { Option } from 'commander';
import { type BatchReply, PRIORITIES } from '../../contract/batches.js';
import { type Command, type CommandGroup, InputError, type Say } from '../command.js';
import { callServer, type ServerOption, serverOption } from '../serverCalls.js';
import { BATCH_NUMBER, batchByNumber } from './batchByNumber.js';
import { batchMovie, batchPackage } from './batchHandOver.js';

const clock = (seconds: number): string =>
  seconds < 90 ? `${Math.round(seconds)} s` : seconds < 5400 ? `${Math.round(seconds / 60)} min` : `${(seconds / 3600).toFixed(1)} h`;

/** One line of a batch: number, state, how far it is, and what is to know of it. */
function line(batch: BatchReply): string {
  const { number, name, state, done, total, failed, takenOver, developed, remaining, reason, priority, startAt } = batch;
  const facts = [
    `${done} of ${total} frames`,
    developed > 0 && `${developed} developed from masters`,
    takenOver > 0 && `${takenOver} reused`,
    failed > 0 && `${failed} failed`,
    state === 'running' && remaining !== null && `${clock(remaining)} to go`,
    state === 'queued' && priority !== 'inTurn' && priority,
    startAt && state === 'queued' && `from ${startAt}`,
  ].filter(Boolean);
  return `${number}  ${state}  ${name}: ${facts.join(', ')}${reason ? `\n   ${reason}` : ''}`;
}

/** A command that asks one thing of one batch, and says how it stands then. */
const act = (name: string, summary: string, route: `POST /batches/:id/${'pause' | 'resume' | 'stop' | 'retry'}`): Command<ServerOption> => ({
  name,
  summary,
  argument: BATCH_NUMBER,
  options: [serverOption()],
  async run(number, options, say) {
    const { id } = await batchByNumber(number, options);
    const batch = await callServer(options, route, { params: { id } });
    say(line(batch));
    return batch;
  },
});

const list: Command<ServerOption> = {
  name: 'list',
  summary: 'list the batches of all projects, the latest first',
  options: [serverOption()],
  async run(_, options, say) {
    const batches = await callServer(options, 'GET /batches');
    for (const batch of batches) say(line(batch));
    return batches;
  },
};

const show: Command<ServerOption> = {
  name: 'show',
  summary: 'say how a batch stands',
  argument: BATCH_NUMBER,
  options: [serverOption()],
  async run(number, options, say) {
    const batch = await batchByNumber(number, options);
    say(`${line(batch)}\n   ${batch.folder}`);
    return batch;
  },
};

interface StartOptions extends ServerOption {
  project: string;
  revision?: string;
  variant?: string;
  select?: string;
  priority?: string;
  startAt?: string;
  spread?: string;
  draft?: string;
  anew?: boolean;
  key?: string;
  wait?: boolean;
}

/** The set and the revision that names choose. Throws InputError that tells which there are. */
async function chosen(set: string, options: StartOptions): Promise<{ set: number; revision: number }> {
  const projects = await callServer(options, 'GET /projects');
  const project = projects.find((p) => p.name === options.project || String(p.id) === options.project);
  if (!project)
    throw new InputError(`--project: there is no project "${options.project}"; there are ${projects.map((p) => p.name).join(', ') || 'none'}.`);
  const found = project.sets.find((s) => s.name === set || String(s.id) === set);
  if (!found) throw new InputError(`There is no set "${set}" in "${project.name}"; there are ${project.sets.map((s) => s.name).join(', ')}.`);
  const { revisions } = project;
  const revision = options.revision === undefined ? revisions.at(-1) : revisions.find((r) => r.letter === options.revision);
  if (!revision)
    throw new InputError(
      `There is no revision ${options.revision ?? ''} in "${project.name}"; there are ${revisions.map((r) => r.letter).join(', ') || 'none'}.`,
    );
  return { set: found.id, revision: revision.id };
}

function shares(text: string): { size: number; samples: number } {
  const m = /^(0?\.\d+|1)(?:,(0?\.\d+|1))?$/.exec(text);
  if (!m) throw new InputError(`--draft: "${text}" is no share; write 0.5, or 0.5,0.25 for the size and the samples.`);
  return { size: Number(m[1]), samples: Number(m[2] ?? m[1]) };
}

const POLL_MS = 1000;

/** Waits until a batch is over or needs a person, saying how it stands where that changes. */
async function follow(batch: BatchReply, options: ServerOption, say: Say): Promise<BatchReply> {
  let now = batch;
  for (let told = ''; ;) {
    if (line(now) !== told) say((told = line(now)));
    if (!['queued', 'running'].includes(now.state)) return now;
    await new Promise((r) => setTimeout(r, POLL_MS));
    now = await callServer(options, 'GET /batches/:id', { params: { id: batch.id } });
  }
}

const start: Command<StartOptions> = {
  name: 'start',
  summary: 'start a batch of a set',
  argument: ['set', 'name or id of the set'],
  options: [
    serverOption(),
    new Option('--project <name>', 'name or id of its project').makeOptionMandatory(),
    new Option('--revision <letter>', 'revision of the model; the latest where it is left out'),
    new Option('--variant <id>', 'variant that is rendered instead of the active one'),
    new Option('--select <list>', 'these frames alone, for example "1-20, last", "failed, missing" or "spin: stale; none"'),
    new Option('--priority <level>', 'where it comes in the queue').choices([...PRIORITIES]),
    new Option('--start-at <time>', 'not before this time, as 2026-12-01T20:00:00+02:00'),
    new Option('--spread <n>', 'every n-th frame first, then those between'),
    new Option('--draft <share>', 'smaller and with fewer samples: 0.5, or 0.5,0.25 for the size and the samples'),
    new Option('--anew', 'render also what an equal picture is there of'),
    new Option('--key <text>', 'name of this start: starting again with the same key starts nothing new'),
    new Option('--wait', 'return when it is over; exit 1 where it is held or frames failed'),
  ],
  async run(name, options, say) {
    const { set, revision } = await chosen(name, options);
    const { variant, select, priority, startAt, spread, draft, anew, key } = options;
    const asked = {
      revision,
      ...(variant !== undefined && { variant }),
      ...(select !== undefined && { select }),
      ...(priority !== undefined && { priority }),
      ...(startAt !== undefined && { startAt }),
      ...(spread !== undefined && { spread: Number(spread) }),
      ...(draft !== undefined && { draft: shares(draft) }),
      ...(anew && { anew }),
    };
    const headers: Record<string, string> = key === undefined ? {} : { 'idempotency-key': key };
    const batch = await callServer(options, 'POST /sets/:id/batches', { params: { id: set }, body: asked, headers });
    if (!options.wait) {
      say(line(batch));
      return batch;
    }
    const over = await follow(batch, options, say);
    if (over.state !== 'done' || over.failed > 0)
      throw new Error(`Batch ${over.number} is ${over.state}${over.failed > 0 ? `, and ${over.failed} frames failed` : ''}.`);
    return over;
  },
};

const report: Command<ServerOption> = {
  name: 'report',
  summary: 'report a batch: plan, machine, every frame, checksums',
  argument: BATCH_NUMBER,
  options: [serverOption()],
  async run(number, options, say) {
    const { id } = await batchByNumber(number, options);
    const told = await callServer(options, 'GET /batches/:id/report', { params: { id } });
    const { counts, batch } = told;
    say(
      `${batch.number}  ${batch.state}  ${batch.name}: ${counts.done} of ${counts.total} frames, ${counts.developed > 0 ? `${counts.developed} developed from masters, ` : ''}${counts.takenOver} reused, ${counts.failed} failed, ${counts.accepted} accepted`,
    );
    for (const f of told.frames) if (f.state === 'failed') say(`   ${f.shot}, frame ${f.number}: ${f.message ?? 'no reason was recorded'}`);
    return told;
  },
};

/** `easel batch`. */
export const batchCommands: CommandGroup = {
  name: 'batch',
  summary: 'start, follow and steer batches of a running server',
  commands: [
    start,
    list,
    show,
    act('pause', 'pause a batch; what a still has is kept', 'POST /batches/:id/pause'),
    act('resume', 'go on with a batch that is paused or held', 'POST /batches/:id/resume'),
    act('stop', 'stop a batch; what it has rendered is kept', 'POST /batches/:id/stop'),
    act('retry', 'render the failed frames of a batch again', 'POST /batches/:id/retry'),
    report,
    batchMovie,
    batchPackage,
  ] as Command[],
};

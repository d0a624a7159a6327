/** Tells another program that a batch has ended: its report goes to an address, or into a command. */
import { spawn } from 'node:child_process';
import type { BatchReport } from '../../contract/queue.js';
import { isHookAddress } from '../config.js';
import type { ServerContext } from '../context.js';
import { Batch } from '../db/models.js';
import { batchReport } from './report.js';

/** Milliseconds that whoever is told may take. */
const LIMIT_MS = 60_000;

async function post(address: string, report: BatchReport): Promise<void> {
  const response = await fetch(address, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(report),
    signal: AbortSignal.timeout(LIMIT_MS),
    // Where it leads elsewhere, nobody has allowed that.
    redirect: 'error',
  });
  if (!response.ok) throw new Error(`it answers ${response.status}`);
}

/** The report is on the command's standard input; number and state are in its environment too. */
function run(command: string, { batch, ...report }: BatchReport): Promise<void> {
  return new Promise((resolve, reject) => {
    const env = { ...process.env, COLD_EASEL_BATCH: String(batch.number), COLD_EASEL_STATE: batch.state };
    const child = spawn(command, { shell: true, stdio: ['pipe', 'ignore', 'pipe'], env, timeout: LIMIT_MS });
    let said = '';
    child.stderr.on('data', (d: Buffer) => (said = (said + d.toString()).slice(-500)));
    child.on('error', reject);
    child.on('close', (code) => (code === 0 ? resolve() : reject(new Error(`it ends with ${code ?? 'a signal'}${said ? `: ${said.trim()}` : ''}`))));
    // One that reads nothing is told all the same.
    child.stdin.on('error', () => undefined);
    child.stdin.end(JSON.stringify({ batch, ...report }));
  });
}

/** Never rejects: a batch is done whether or not anybody hears of it. What goes wrong is in the log. */
export async function callHook(context: ServerContext, id: number): Promise<void> {
  const { hook } = context.config;
  if (hook === null) return;
  try {
    const batch = await Batch.findByPk(id);
    if (!batch) return;
    const report = await batchReport(context, batch);
    await (isHookAddress(hook) ? post(hook, report) : run(hook, report));
  } catch (e) {
    context.log.warn({ err: e, batch: id, hook }, 'the hook could not be told that a batch has ended');
  }
}
